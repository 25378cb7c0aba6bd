/** Settings of the effect or element that is selected in the lanes. */
import { hasPlace, nameOf } from '~/core/compose/lane-items.ts';
import { placeKey } from '~/core/compose/lanes.ts';
import { effectContent, elementContent, lanePresetEdits } from '~/core/document/library.ts';
import { type LaneItem, SHOT } from '~/core/document/schema.ts';
import type { LibraryEntry } from '~/server/library.ts';
import { settingsOfItem } from '../keys/all-settings.ts';
import { ChoiceSetting, ShareSetting } from '../settings/fields.tsx';
import { KeyAll } from '../settings/key-all.tsx';
import { MeasureFields } from '../settings/measure-fields.tsx';
import { PresetsMenu } from '../settings/presets-menu.tsx';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { EmptyNote, PanelTitle } from '../ui/controls.tsx';
import { BlendChoice, MatteChoice } from './blend-and-matte.tsx';
import { DescribedSettings } from './described-settings.tsx';
import { ElementEffects } from './element-effects.tsx';
import { ElementFields } from './element-fields.tsx';
import { ItemFollows } from './item-follows.tsx';
import { laneName, listedLanes } from './lane-words.ts';
import { LeavesOutline } from './leaves-outline.tsx';
import { ItemLivesOn } from './lives-on.tsx';
import { RimWidths } from './rim-widths.tsx';
import { TimingSettings } from './timing-settings.tsx';

export function ItemSettings() {
  const item = useShot((s) => s.document.lanes.find((l) => l.id === s.selected));
  const timing = useShot((s) => s.selected === SHOT);
  return (
    <section aria-label="Settings" data-settings className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle
        actions={
          item && (
            <>
              <KeyAll of={nameOf(item).toLowerCase()} settings={settingsOfItem(item)} />
              <ItemPresets item={item} />
            </>
          )
        }
      >
        {item ? `Settings: ${nameOf(item)}` : timing ? 'Settings: Timing' : 'Settings'}
      </PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto py-2">
        {timing && <TimingSettings />}
        {!item && !timing && <EmptyNote>Select an effect or an element in a lane to see its settings.</EmptyNote>}
        {item && (
          <>
            <LaneChoice item={item} />
            {item.lane === 'rim' && <RimWidths item={item} />}
            {item.type === 'element' && <ElementFields key={item.id} item={item} />}
            <ItemLivesOn item={item} />
            {hasPlace(item) && <ItemFollows item={item} />}
            <ShareSetting
              record={item.id}
              setting="mix"
              value={item.mix}
              label={item.type === 'effect' ? 'Mix' : 'Opacity'}
              about={item.type === 'effect' ? 'How strong the effect is; 0 leaves the picture as it was.' : 'How much of it covers what lies behind.'}
            />
            <BlendChoice item={item} />
            <MatteChoice key={`${item.id} matte`} item={item} />
            {item.type === 'effect' && <LeavesOutline item={item} />}
            {item.type === 'effect' && <MeasureFields key={`${item.id} measure`} item={item} />}
            <DescribedSettings item={item} />
            {item.type === 'element' && <ElementEffects key={`${item.id} effects`} element={item} />}
          </>
        )}
      </div>
    </section>
  );
}

function ItemPresets({ item }: { item: LaneItem }) {
  const store = useShotStore();
  const fits = (entry: LibraryEntry) =>
    (entry.kind === 'effect' && item.type === 'effect' && entry.content.effect === item.effect) ||
    (entry.kind === 'element' && item.type === 'element' && entry.content.element === item.element);
  return (
    <PresetsMenu
      of={nameOf(item).toLowerCase()}
      start={nameOf(item)}
      fits={fits}
      item={(name) =>
        item.type === 'effect' ? { kind: 'effect', name, content: effectContent(item) } : { kind: 'element', name, content: elementContent(item) }
      }
      edits={(entry, frame) =>
        entry.kind === 'effect' || entry.kind === 'element'
          ? lanePresetEdits(store.getState().document, item, entry.content, frame, () => crypto.randomUUID())
          : []
      }
    />
  );
}

function LaneChoice({ item }: { item: LaneItem }) {
  const store = useShotStore();
  const cast = useShot((s) => s.document.cast);
  const lanes = listedLanes({ cast });
  const move = (key: string) => {
    const to = lanes.find((l) => l.key === key);
    if (to) store.getState().commit('Change lane', [{ kind: 'assign', id: item.id, values: { lane: to.lane, subject: to.subject } }]);
  };
  return (
    <ChoiceSetting
      label="Lane"
      about="Where in depth it lies, and what confines it."
      value={placeKey(item)}
      options={lanes.map((l) => ({ id: l.key, label: laneName(l) }))}
      onChange={move}
    />
  );
}
