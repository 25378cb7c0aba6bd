/** A Peel: carrying it, what is doubtful, its settings, and its strokes one by one. */

import { Trash2 } from 'lucide-react';
import { DOUBTFUL } from '~/core/document/approval.ts';
import type { PeelPart, Stroke } from '~/core/document/schema.ts';
import { anchorsOf, mendsOf, startingFrozen } from '~/core/peel/results/inputs.ts';
import { startsFrom } from '~/core/peel/strokes/strokes.ts';
import { withRange } from '~/core/time/ranges.ts';
import { TO_COME } from '../edits/stroke-to-come.ts';
import { type CarryWay, carryRange } from '../state/carry-range.ts';
import { carry, useCarrying, useFound, useTask } from '../state/peel.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, EmptyNote, Hint, IconButton } from '../ui/controls.tsx';
import { useGoToDoubtful } from '../ui/doubt-note.tsx';
import { EyeSwitch } from '../ui/eye-switch.tsx';
import { WorkControls, WorkProgress } from '../ui/running-jobs.tsx';
import { StrokeSample } from '../ui/stroke-sample.tsx';
import { ChoiceSetting, PlainNumber, SwitchSetting } from './fields.tsx';
import { Fence, OutlineFrom } from './peel-fence.tsx';

/** Ways to carry, by the direction they go; what each button says after it, and in whole. */
const WAYS: { to: string; ways: { way: CarryWay; words: string; label: string }[] }[] = [
  {
    to: 'Back',
    ways: [
      { way: 'back', words: 'All the way', label: 'Carry backwards' },
      { way: 'to-before', words: 'To painted', label: 'Carry back to the painted frame before' },
      { way: 'one-back', words: '1 frame', label: 'Carry one frame back' },
    ],
  },
  {
    to: 'On',
    ways: [
      { way: 'on', words: 'All the way', label: 'Carry onwards' },
      { way: 'to-next', words: 'To painted', label: 'Carry on to the next painted frame' },
      { way: 'one-on', words: '1 frame', label: 'Carry one frame on' },
    ],
  },
];

export function PeelSettings({ part }: { part: PeelPart }) {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const range = useView((s) => s.range);
  const found = useFound(part.id);
  const carrying = useCarrying();
  const goToDoubtful = useGoToDoubtful();
  const assign = (label: string, values: Record<string, number | boolean | string>) =>
    store.getState().commit(label, [{ kind: 'assign', id: part.id, values }]);
  const task = useTask(part);
  const anchors = anchorsOf(task);
  const approved = startingFrozen(task).length;
  const mended = mendsOf(task).length;
  const painted = anchors.length - approved - mended;
  const sources = [
    painted > 0 && (painted === 1 ? 'one painted frame' : `${painted} painted frames`),
    mended > 0 && `${mended} mended`,
    approved > 0 && `${approved} approved`,
  ]
    .filter(Boolean)
    .join(', ');
  const strokes = part.strokes.filter((s) => s.id !== TO_COME);
  const doubtful = [...found.values()].filter((f) => f.doubt >= DOUBTFUL).length;
  const start = (way: CarryWay) => {
    const { first, last } = carryRange(way, frame, range, plate.frames, anchors);
    void carry(store, part.id, first, last);
  };
  return (
    <>
      <section aria-label="Carry" className="border-line border-y px-3 py-2">
        <div className="flex items-center gap-2 pb-1">
          <span className="flex-1 text-sm">Carry</span>
          <Hint label="Carry both ways" shortcut="carryBoth" about="From the painted frames to the ends of the shot, or of the marked range.">
            <Button aria-label="Carry both ways" className="!h-6 text-xs" disabled={anchors.length === 0} onClick={() => start('both')}>
              Both ways
            </Button>
          </Hint>
        </div>
        {WAYS.map(({ to, ways }) => (
          <div key={to} className="flex items-center gap-1 pb-1" role="group" aria-label={`Carry ${to.toLowerCase()}`}>
            <span className="w-9 shrink-0 text-quiet text-xs">{to}</span>
            {ways.map(({ way, words, label }) => (
              <Button
                key={way}
                aria-label={label}
                title={label}
                className="!h-6 !px-1 min-w-0 flex-1 text-xs"
                disabled={anchors.length === 0}
                onClick={() => start(way)}
              >
                {words}
              </Button>
            ))}
          </div>
        ))}
        {carrying.map((work) => (
          <div key={work.id} className="flex items-center gap-2 pt-1">
            <WorkProgress work={work} />
            <WorkControls work={work} />
          </div>
        ))}
        <p aria-live="polite" className="pt-1 text-quiet text-xs">
          {anchors.length === 0
            ? 'Nothing is kept yet: take the brush (Z) and paint on the subject.'
            : `${found.size} of ${plate.frames} frames found from ${sources}.`}
        </p>
        {range && (
          <p className="pt-1 text-quiet text-xs">
            Carried in the marked range, {range.first + plate.firstNumber} to {range.last + plate.firstNumber}.
          </p>
        )}
        {found.size > 0 && (
          <div className="flex items-center gap-2 pt-1 text-xs">
            <span className="flex-1">
              {doubtful === 0 ? `No frame with a doubt of ${DOUBTFUL} or more.` : `${doubtful} with a doubt of ${DOUBTFUL} or more.`}
            </span>
            <Button className="!h-6 text-xs" disabled={doubtful === 0} onClick={goToDoubtful} title="Shift D">
              Next doubtful
            </Button>
          </div>
        )}
      </section>
      <OutOfSight part={part} />
      <Fence part={part} />
      <ChoiceSetting
        label="Quality"
        about="A draft is faster and coarser: good for a first look, or for a subject under a rough effect."
        value={part.quality}
        options={[
          { id: 'draft', label: 'Draft: looks at half the size' },
          { id: 'fine', label: 'Fine: settles at full size' },
        ]}
        onChange={(quality) => assign('Set quality', { quality })}
      />
      <PlainNumber
        label="Search"
        unit="px"
        value={part.look}
        min={2}
        max={60}
        step={1}
        about="How far from where it is expected a carried edge is looked for, in pixels of the proxy"
        onValue={(look) => assign('Set search', { look })}
      />
      <PlainNumber
        label="Smoothness"
        unit="×"
        value={part.smoothness}
        min={0.1}
        max={10}
        step={0.1}
        about="More draws the edge to what the picture shows as one and makes it shorter; less follows the colours"
        onValue={(smoothness) => assign('Set smoothness', { smoothness })}
      />
      <SwitchSetting
        label="Loose pieces"
        about="Whether pieces that hold no keep stroke may belong to the subject."
        checked={part.separatePieces}
        onChange={(separatePieces) => assign('Set pieces', { separatePieces })}
      >
        {part.separatePieces ? 'pieces without a stroke stay' : 'only pieces with a keep stroke'}
      </SwitchSetting>
      <PlainNumber
        label="Specks"
        unit="px²"
        value={part.specks}
        min={0}
        max={100_000}
        slider={2000}
        step={10}
        about="Pieces smaller than this are left out of what is carried, in square pixels of the proxy"
        onValue={(specks) => assign('Set specks', { specks })}
      />
      <PlainNumber
        label="Holes"
        unit="px²"
        value={part.holes}
        min={0}
        max={100_000}
        slider={2000}
        step={10}
        about="Holes smaller than this are filled in what is carried, in square pixels of the proxy"
        onValue={(holes) => assign('Set holes', { holes })}
      />
      <section aria-label="Strokes">
        <div className="flex items-center justify-between px-3 pt-2 pb-1">
          <h3 className="font-semibold text-xs">Strokes</h3>
          <OutlineFrom part={part} />
        </div>
        <MendingHere part={part} />
        {strokes.length === 0 && <EmptyNote>None yet. Keep strokes on the subject, drop strokes on what is not it.</EmptyNote>}
        <ul onMouseLeave={() => view.getState().set({ pointedStroke: null })}>
          {strokes
            // Those of this frame are what is worked on.
            .sort((a, b) => Number(b.frame === frame) - Number(a.frame === frame) || a.frame - b.frame)
            .map((stroke) => (
              <StrokeRow key={stroke.id} stroke={stroke} part={part.id} locked={part.locked} current={stroke.frame === frame} />
            ))}
        </ul>
      </section>
    </>
  );
}

/** Whether the strokes of this frame mend what was carried to it, or begin anew; and the other way. */
function MendingHere({ part }: { part: PeelPart }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const task = useTask(part);
  const here = part.strokes.filter((s) => s.frame === frame && s.enabled && s.id !== TO_COME && s.kind !== 'soft');
  const anchors = anchorsOf(task);
  const mends = mendsOf(task).includes(frame);
  // A frame that begins anew has something to mend only where carrying starts elsewhere too.
  if (here.length === 0 || !(mends || (anchors.length > 1 && anchors.includes(frame)))) return null;
  const alone = here.some(startsFrom);
  const change = () => {
    const edits = part.strokes.filter((s) => s.frame === frame).map(({ id }) => ({ kind: 'assign' as const, id, values: { mends: !mends } }));
    if (store.getState().commit(mends ? 'Begin anew' : 'Mend what is carried', edits)) view.getState().set({ painted: { part: part.id, frame } });
  };
  const title = !mends
    ? 'The strokes of this frame mend what is carried to it from the others'
    : alone
      ? 'The subject is found on this frame from its own strokes alone'
      : 'Strokes that begin anew need one among them that keeps something';
  return (
    <div className="flex items-center gap-2 px-3 pb-1 text-xs">
      <span className="min-w-0 flex-1 text-quiet">{mends ? 'On this frame they mend what is carried here.' : 'On this frame they begin anew.'}</span>
      <Button className="!h-6 shrink-0 text-xs" disabled={part.locked || (mends && !alone)} title={title} onClick={change}>
        {mends ? 'Begin anew' : 'Mend instead'}
      </Button>
    </div>
  );
}

/** Frames on which nothing of the subject is to be seen, and from where on it is looked for again. */
function OutOfSight({ part }: { part: PeelPart }) {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const range = useView((s) => s.range);
  const task = useTask(part);
  const here = part.hidden.find((r) => frame >= r.first && frame <= r.last);
  const set = (label: string, ranges: PeelPart['hidden'], from: number) => {
    if (store.getState().commit(label, [{ kind: 'hide', id: part.id, ranges }])) view.getState().set({ painted: { part: part.id, frame: from } });
  };
  // Without a marked range, up to where the next painted frame shows it.
  const next = anchorsOf(task).find((a) => a > frame);
  const gone = range ?? { first: frame, last: next === undefined ? plate.frames - 1 : next - 1 };
  const words = part.hidden.map((r) => `${r.first + plate.firstNumber}–${r.last + plate.firstNumber}`).join(', ');
  return (
    <div className="flex items-center gap-2 px-3 py-1 text-sm">
      <span className="w-20 shrink-0">Out of sight</span>
      <span className="min-w-0 flex-1 truncate font-mono text-xs" title={words}>
        {words || 'nowhere'}
      </span>
      {here ? (
        <Button
          className="!h-6 text-xs"
          title="It is looked for from this frame on"
          onClick={() => set('Here again', withRange(part.hidden, { first: frame, last: here.last }, false), frame)}
        >
          Here again
        </Button>
      ) : (
        <Button
          className="!h-6 text-xs"
          title={range ? 'Nothing is kept on the marked range' : 'Nothing is kept from this frame on, until it is here again'}
          onClick={() => set('Out of sight', withRange(part.hidden, gone, true), gone.first)}
        >
          {range ? 'On the range' : 'Gone from here'}
        </Button>
      )}
    </div>
  );
}

const KIND_WORDS = { keep: 'Keep', drop: 'Drop', soft: 'Soft edge', loop: 'Loop' } as const;

function StrokeRow({ stroke, part, locked, current }: { stroke: Stroke; part: string; locked: boolean; current: boolean }) {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const { id, kind, enabled, frame, radius } = stroke;
  const words = `${KIND_WORDS[kind]}, frame ${frame + plate.firstNumber}${kind === 'loop' ? '' : `, ${Math.round(radius)} px`}`;
  const point = (on: boolean) => view.getState().set({ pointedStroke: on ? id : null });
  const remake = (label: string, edit: Parameters<ReturnType<typeof store.getState>['commit']>[1]) => {
    if (store.getState().commit(label, edit)) view.getState().set({ painted: { part, frame } });
  };
  return (
    <li
      className={`flex h-7 items-center gap-1 px-3 text-xs hover:bg-raised/60 ${current ? 'bg-raised/40' : ''} ${enabled ? '' : 'text-quiet'}`}
      onMouseEnter={() => point(true)}
    >
      <StrokeSample kind={kind} />
      <button
        type="button"
        className="min-w-0 flex-1 truncate text-left"
        title="Go to its frame"
        onClick={() => view.getState().goTo(frame)}
        onFocus={() => point(true)}
        onBlur={() => point(false)}
      >
        {words}
      </button>
      <EyeSwitch
        label={enabled ? `Switch the stroke off: ${words}` : `Switch the stroke on: ${words}`}
        about="Switched off, it counts for nothing; what it decided is found anew."
        on={enabled}
        disabled={locked}
        onSwitch={() => remake(enabled ? 'Switch stroke off' : 'Switch stroke on', [{ kind: 'assign', id, values: { enabled: !enabled } }])}
      />
      <IconButton
        label={`Delete the stroke: ${words}`}
        about="What it decided is found anew; undo brings it back."
        disabled={locked}
        className="!size-6"
        onClick={() => remake('Delete stroke', [{ kind: 'remove', id }])}
      >
        <Trash2 />
      </IconButton>
    </li>
  );
}
