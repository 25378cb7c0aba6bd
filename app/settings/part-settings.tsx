/** Settings of the part that is selected in the cast: how it joins, where it lives, and its curves. */

import { memo, useDeferredValue } from 'react';
import { peelContent, trackContent } from '~/core/document/library.ts';
import { partWith } from '~/core/document/parts.ts';
import { type KnownPart, OPERATIONS, type Part, type PeelPart, type Track } from '~/core/document/schema.ts';
import { settingsOfPart } from '../keys/all-settings.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useCurrentSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, EmptyNote, PanelTitle } from '../ui/controls.tsx';
import { ChoiceSetting, ShareSetting, SwitchSetting } from './fields.tsx';
import { KeyAll } from './key-all.tsx';
import { faceOf } from './part-faces.tsx';
import { PresetsMenu } from './presets-menu.tsx';
import { TrackSettings } from './track-settings.tsx';

const PeelPresets = ({ part }: { part: PeelPart }) => (
  <PresetsMenu
    of="Peel"
    start={part.name}
    fits={(entry) => entry.kind === 'peel'}
    item={(name) => ({ kind: 'peel', name, content: peelContent(part) })}
    edits={(entry) => (entry.kind === 'peel' ? [{ kind: 'assign', id: part.id, values: entry.content }] : [])}
  />
);

const TrackPresets = ({ track }: { track: Track }) => (
  <PresetsMenu
    of="track"
    start={track.name}
    fits={(entry) => entry.kind === 'track'}
    item={(name) => ({ kind: 'track', name, content: trackContent(track) })}
    edits={(entry) => (entry.kind === 'track' ? [{ kind: 'assign', id: track.id, values: entry.content }] : [])}
  />
);

const OPERATION_WORDS = { add: 'Add', subtract: 'Subtract', intersect: 'Intersect', exclude: 'Exclude' } as const;

export function PartSettings() {
  // Numbers may follow a drag a little later; what is dragged may not.
  const subject = useDeferredValue(useCurrentSubject());
  const selected = useShot((s) => s.selected);
  const activePath = useShot((s) => s.path);
  const track = useShot((s) => s.history.settled.tracks.find((t) => t.id === s.selected));
  const part = subject && !track ? (partWith(subject, selected) ?? partWith(subject, activePath)) : undefined;
  return (
    <section aria-label="Settings" data-settings className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle
        actions={
          <>
            {part && <KeyAll of={part.name} settings={settingsOfPart(part)} />}
            {part?.type === 'peel' && <PeelPresets part={part} />}
            {track && <TrackPresets track={track} />}
          </>
        }
      >
        {(track ?? part) ? `Settings: ${(track ?? part)?.name}` : 'Settings'}
      </PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto py-2">
        {track ? (
          <TrackSettings key={track.id} track={track} />
        ) : part ? (
          part.type === 'foreign' ? (
            <EmptyNote>This part is from another version of Mottrel. It is kept as it is and masks nothing here.</EmptyNote>
          ) : (
            <PartFields part={part} />
          )
        ) : subject ? (
          <EmptyNote>Select a part in the cast, or click a curve in the viewer, to see its settings.</EmptyNote>
        ) : (
          <EmptyNote>Nothing to set yet.</EmptyNote>
        )}
      </div>
    </section>
  );
}

const PartFields = memo(function PartFields({ part }: { part: KnownPart }) {
  const store = useShotStore();
  const { masks, Own } = faceOf(part);
  const assign = (label: string, values: Record<string, string | boolean | number>) =>
    store.getState().commit(label, [{ kind: 'assign', id: part.id, values }]);
  return (
    <>
      {part.locked && (
        <p className="mx-3 mb-1 flex items-center gap-2 rounded border border-line px-2 py-1 text-xs">
          <span className="flex-1">Locked: its curves cannot be changed by hand.</span>
          <button type="button" className="underline" onClick={() => assign('Unlock', { locked: false })}>
            Unlock
          </button>
        </p>
      )}
      <ChoiceSetting
        label="Combine"
        about="How this part goes together with those above it: added, taken away, only what both have, only what one has."
        value={part.operation}
        options={OPERATIONS.map((id) => ({ id, label: OPERATION_WORDS[id] }))}
        onChange={(operation) => assign('Set operation', { operation })}
      />
      <SwitchSetting
        label="Invert"
        about="Turns inside and outside round."
        checked={part.inverted}
        onChange={(inverted) => assign(inverted ? 'Invert' : 'Invert back', { inverted })}
      >
        {masks[part.inverted ? 1 : 0]}
      </SwitchSetting>
      <ShareSetting record={part.id} setting="opacity" value={part.opacity} label="Opacity" about="How much this part counts." />
      <RangeFields part={part} />
      <Own part={part} />
    </>
  );
});

/** In and out: the frames that the part lives on. */
function RangeFields({ part }: { part: Part }) {
  const store = useShotStore();
  const { plate } = useWorkbench();
  const marked = useView((s) => s.range);
  const set = (range: Part['range']) =>
    store.getState().commit(range ? 'Set range of part' : 'Part on all frames', [{ kind: 'assign', id: part.id, values: { range } }]);
  return (
    <div className="flex items-center gap-2 px-3 py-1 text-sm">
      <span className="w-20 shrink-0" title="The frames on which this part masks">
        Active on
      </span>
      <span className="min-w-0 flex-1 font-mono text-xs">
        {part.range ? `${part.range.first + plate.firstNumber}–${part.range.last + plate.firstNumber}` : 'all frames'}
      </span>
      {part.range && (
        <Button className="!h-6 text-xs" onClick={() => set(null)}>
          All frames
        </Button>
      )}
      <Button
        className="!h-6 text-xs"
        disabled={!marked}
        title={marked ? 'The part masks on the marked range only' : 'Mark a range first: B and N, or drag in the Sheet'}
        onClick={() => marked && set(marked)}
      >
        Marked range
      </Button>
    </div>
  );
}
