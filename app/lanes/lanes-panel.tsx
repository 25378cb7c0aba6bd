/** The lanes: what happens inside and behind each subject. What is put into a lane is confined there with no other step. */
import { ArrowDown, ArrowUp, Eye, EyeOff, Plus, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { effectContent, effectPresetEdits } from '~/core/document/library.ts';
import { LANES, type Lane, type LaneEffect, type Subject } from '~/core/document/schema.ts';
import { EFFECTS, effectById } from '~/core/effects/index.ts';
import { newLaneEffect } from '~/core/effects/lane-effect.ts';
import type { Animated } from '~/core/time/animated.ts';
import { ChoiceSetting, ColourSetting, NumberSetting } from '../settings/fields.tsx';
import { PresetsMenu } from '../settings/presets-menu.tsx';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { EmptyNote, IconButton, MENU, MENU_ITEM, PanelTitle } from '../ui/controls.tsx';

const LANE_WORDS: Record<Lane, { title: string; about: string }> = {
  inside: { title: 'Inside', about: 'the subject alone' },
  behind: { title: 'Behind', about: 'all but the subject' },
};

export function LanesPanel() {
  const cast = useShot((s) => s.document.cast);
  return (
    <section aria-label="Lanes" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle>Lanes</PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto">
        {cast.length === 0 && <EmptyNote>Lanes are relative to a subject: isolate one first.</EmptyNote>}
        {cast.map((subject) => LANES.map((lane) => <LaneSection key={`${subject.id}.${lane}`} subject={subject} lane={lane} />))}
        <p className="px-3 py-2 text-quiet text-xs">Behind everything: the plate.</p>
      </div>
    </section>
  );
}

function LaneSection({ subject, lane }: { subject: Subject; lane: Lane }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const lanes = useShot((s) => s.document.lanes);
  const items = lanes.filter((l) => l.subject === subject.id && l.lane === lane);
  const add = (effect: string) => {
    const id = crypto.randomUUID();
    const record = newLaneEffect(id, lane, subject.id, effect);
    if (!store.getState().commit(`Add ${effectById(effect).label.toLowerCase()}`, [{ kind: 'insert', parent: 'lanes', index: lanes.length, record }])) return;
    store.getState().select(id);
    view.getState().setView('composed');
  };
  const words = LANE_WORDS[lane];
  return (
    <div className="border-line border-b">
      <div className="flex h-9 items-center gap-2 pr-1 pl-3">
        <h3 className="min-w-0 flex-1 truncate text-sm">
          <span className="font-medium">{words.title}</span> {subject.name}
          <span className="ml-2 text-quiet text-xs">{words.about}</span>
        </h3>
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger
            aria-label={`Add an effect ${words.title.toLowerCase()} ${subject.name}`}
            className="flex size-7 items-center justify-center rounded text-quiet hover:bg-raised hover:text-ink"
          >
            <Plus className="size-4" />
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content className={MENU} align="end">
              {EFFECTS.map((e) => (
                <DropdownMenu.Item key={e.id} className={`${MENU_ITEM} flex-col !items-start !gap-0`} onSelect={() => add(e.id)}>
                  <span>{e.label}</span>
                  <span className="text-quiet text-xs">{e.about}</span>
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      </div>
      {items.length === 0 ? (
        <p className="px-3 pb-2 text-quiet text-xs">Empty. Add an effect with +.</p>
      ) : (
        <ol className="pb-1">
          {items.map((item, i) => (
            <EffectRow key={item.id} item={item} before={items[i - 1]} after={items[i + 1]} />
          ))}
        </ol>
      )}
    </div>
  );
}

function EffectRow({ item, before, after }: { item: LaneEffect; before?: LaneEffect; after?: LaneEffect }) {
  const store = useShotStore();
  const selected = useShot((s) => s.selected === item.id);
  const lanes = useShot((s) => s.document.lanes);
  const { label } = effectById(item.effect);
  const moveTo = (other: LaneEffect) =>
    store.getState().commit('Change order', [{ kind: 'move', id: item.id, index: lanes.findIndex((l) => l.id === other.id) }]);
  return (
    <li
      className={`group mx-1 flex h-8 items-center rounded pl-3 text-sm ${selected ? 'bg-raised' : 'hover:bg-raised/60'} ${item.enabled ? '' : 'text-quiet'}`}
    >
      <button type="button" aria-pressed={selected} className="min-w-0 flex-1 truncate text-left" onClick={() => store.getState().select(item.id)}>
        {label}
      </button>
      <span className="flex opacity-0 focus-within:opacity-100 group-hover:opacity-100">
        <IconButton label="Earlier" disabled={!before} className="!size-6" onClick={() => before && moveTo(before)}>
          <ArrowUp />
        </IconButton>
        <IconButton label="Later" disabled={!after} className="!size-6" onClick={() => after && moveTo(after)}>
          <ArrowDown />
        </IconButton>
        <IconButton label={`Delete ${label}`} className="!size-6" onClick={() => store.getState().commit('Delete effect', [{ kind: 'remove', id: item.id }])}>
          <Trash2 />
        </IconButton>
      </span>
      <IconButton
        label={item.enabled ? `Switch ${label} off` : `Switch ${label} on`}
        pressed={item.enabled}
        className="!size-6 !border-transparent !bg-transparent"
        onClick={() =>
          store
            .getState()
            .commit(item.enabled ? 'Switch effect off' : 'Switch effect on', [{ kind: 'assign', id: item.id, values: { enabled: !item.enabled } }])
        }
      >
        {item.enabled ? <Eye /> : <EyeOff />}
      </IconButton>
    </li>
  );
}

export function EffectSettings() {
  const store = useShotStore();
  const selected = useShot((s) => s.selected);
  const item = useShot((s) => s.document.lanes.find((l) => l.id === selected));
  return (
    <section aria-label="Settings" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle
        actions={
          item && (
            <PresetsMenu
              of={effectById(item.effect).label.toLowerCase()}
              start={effectById(item.effect).label}
              fits={(entry) => entry.kind === 'effect' && entry.content.effect === item.effect}
              item={(name) => ({ kind: 'effect', name, content: effectContent(item) })}
              edits={(entry, frame) => (entry.kind === 'effect' ? effectPresetEdits(item.id, entry.content, frame) : [])}
            />
          )
        }
      >
        {item ? `Settings: ${effectById(item.effect).label}` : 'Settings'}
      </PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto py-2">
        {!item && <EmptyNote>Select an effect in a lane to see its settings.</EmptyNote>}
        {item && (
          <>
            <ChoiceSetting
              label="Lane"
              value={item.lane}
              options={LANES.map((id) => ({ id, label: LANE_WORDS[id].title }))}
              onChange={(lane) => store.getState().commit('Change lane', [{ kind: 'assign', id: item.id, values: { lane } }])}
            />
            <NumberSetting record={item.id} setting="mix" value={item.mix} label="Mix" unit="%" min={0} max={100} step={1} factor={100} />
            {Object.entries(effectById(item.effect).settings).map(([key, described]) => {
              const value = item.settings[key] ?? { constant: described.start };
              const setting = `settings.${key}`;
              return described.kind === 'number' ? (
                <NumberSetting
                  key={key}
                  record={item.id}
                  setting={setting}
                  value={value as Animated<number>}
                  label={described.label}
                  unit={described.unit}
                  min={described.min}
                  max={described.max}
                  step={described.step}
                />
              ) : (
                <ColourSetting key={key} record={item.id} setting={setting} value={value as Animated<number[]>} label={described.label} />
              );
            })}
          </>
        )}
      </div>
    </section>
  );
}
