/** Choosing what to write: one output, or several that are written in one pass, of this shot and of others. */
import { ChevronRight, ListPlus } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { timeMap } from '~/core/compose/timing.ts';
import { type Delivery, PLAIN_DELIVERY, withHandles } from '~/core/document/delivery.ts';
import type { OutputWish } from '~/core/document/library.ts';
import type { FormatDescription, OptionDescription, OutputSpec } from '~/server/outputs/format.ts';
import { ChoiceSetting, SwitchSetting } from '../settings/fields.tsx';
import { HELD } from '../settings/hold-still.tsx';
import { PresetsMenu } from '../settings/presets-menu.tsx';
import { send } from '../state/send.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, EmptyNote, IconButton, PanelTitle, TEXT_FIELD } from '../ui/controls.tsx';
import { DeliveryFields } from './delivery-fields.tsx';
import { OtherShots } from './other-shots.tsx';
import { OutputList } from './output-list.tsx';
import { deliveryFault, deliveryWords, exampleNames } from './output-words.ts';

const FREE = 'as-filmed';

/** What a kind of output can be given. */
const deliveryFor = (format: FormatDescription, delivery: Delivery): Delivery => (format.takesNote ? delivery : { ...delivery, note: false });

/** Options and delivery of an output, to be used on other frames and subjects. */
function wishOf(format: FormatDescription, { delivery = PLAIN_DELIVERY, ...spec }: OutputSpec): OutputWish {
  const options = Object.fromEntries(Object.keys(format.options).map((id) => [id, spec[id] as string | number | boolean]));
  return { kind: format.id, options, delivery };
}

export function OutputForm({ onAsked }: { onAsked(): void }) {
  const store = useShotStore();
  const { plate, formats, otherShots } = useWorkbench();
  const cast = useShot((s) => s.document.cast);
  const shotName = useShot((s) => s.document.name);
  const save = useShot((s) => s.save);
  const range = useView((s) => s.range);
  // Where something was put together, that is what is wanted first.
  const [kind, setKind] = useState(() => {
    const what = store.getState().document.lanes.some((l) => l.enabled) ? 'composed' : 'matte';
    return (formats.find((f) => f.what === what) ?? formats[0]).id;
  });
  const format = formats.find((f) => f.id === kind) ?? formats[0];
  const [chosen, setChosen] = useState<string | null>(null);
  /** Options as they were chosen, of all formats; what was not chosen is as it starts. */
  const [chosenOptions, setChosenOptions] = useState<Record<string, OptionDescription['start']>>({});
  const chosenOf = (id: string, option: OptionDescription) => chosenOptions[`${format.id} ${id}`] ?? option.start;
  const [delivery, setDelivery] = useState<Delivery>(PLAIN_DELIVERY);
  /** Outputs that are to be written in one pass. */
  const [list, setList] = useState<OutputSpec[]>([]);
  const [elsewhere, setElsewhere] = useState(false);
  // All of the shot: a range that is marked still from other work must not shorten what is written unasked.
  const whole = { first: plate.firstNumber, last: plate.frames - 1 + plate.firstNumber };
  const [first, setFirst] = useState(whole.first);
  const [last, setLast] = useState(whole.last);
  const marked = range && { first: range.first + plate.firstNumber, last: range.last + plate.firstNumber };
  const take = (frames: typeof whole) => {
    setFirst(frames.first);
    setLast(frames.last);
  };
  const [busy, setBusy] = useState(false);
  const tracks = useShot((s) => s.document.tracks);
  const [held, setHeld] = useState(FREE);
  const frame = useView((s) => s.readFrame);
  const subject = cast.find((s) => s.id === chosen)?.id ?? cast[0]?.id;
  const needsSubject = format.of === 'subject';
  const wrong =
    last < first
      ? 'The last frame comes before the first.'
      : first < plate.firstNumber || last > plate.firstNumber + plate.frames - 1
        ? `This shot has the frames ${plate.firstNumber} to ${plate.firstNumber + plate.frames - 1}.`
        : deliveryFault(delivery);

  // A speed has a say only where there is one.
  const timing = useShot((s) => s.document.timing);
  const optionsOf = ({ options }: FormatDescription) => Object.entries(options).filter(([id]) => id !== 'timed' || timing);
  const timed = timing && format.options.timed && chosenOf('timed', format.options.timed) === true && !wrong;
  const asked = { first: first - plate.firstNumber, last: last - plate.firstNumber };
  const withEnds = withHandles(asked, delivery.handles, plate.frames);
  const written = timed ? timeMap(timing, withEnds).frames : withEnds.last - withEnds.first + 1;
  const missing = 2 * delivery.handles - (withEnds.last - withEnds.first - (asked.last - asked.first));

  const specNow = (): OutputSpec => {
    const hold = tracks.some((t) => t.id === held) ? { track: held, frame, takes: HELD } : undefined;
    const options = Object.fromEntries(Object.entries(format.options).map(([id, option]) => [id, chosenOf(id, option)]));
    return { kind: format.id, ...(needsSubject ? { subject } : {}), ...options, ...asked, hold, delivery: deliveryFor(format, delivery) };
  };
  /** Gives whether they are being written now. */
  const write = async (outputs: OutputSpec[]): Promise<boolean> => {
    setBusy(true);
    try {
      await send(`/shots/${store.getState().shotId}/outputs`, { body: { outputs } });
      onAsked();
      return true;
    } catch (error) {
      toast.error((error as Error).message);
      return false;
    } finally {
      setBusy(false);
    }
  };
  /** Outputs of a preset on the frames that are chosen now: what is of a subject is of the one that is chosen. */
  const listFrom = (wishes: readonly OutputWish[]) => {
    const known = wishes.filter((w) => formats.some((f) => f.id === w.kind));
    if (known.length < wishes.length) toast.error('The preset asks for outputs that this version does not have; they are left out.');
    const specs = known.flatMap(({ kind: id, options, delivery: d }): OutputSpec[] => {
      const isOfSubject = formats.find((f) => f.id === id)?.of === 'subject';
      return isOfSubject && !subject ? [] : [{ kind: id, ...(isOfSubject ? { subject } : {}), ...options, ...asked, delivery: d }];
    });
    if (specs.length < known.length) toast.error('There is no subject yet, so what is of one is left out.');
    setList(specs);
  };
  const formatOf = (spec: OutputSpec) => formats.find((f) => f.id === spec.kind) ?? formats[0];
  const cannot = busy || wrong !== null || (needsSubject && cast.length === 0);
  const names =
    wrong || (needsSubject && !subject)
      ? []
      : exampleNames(format, delivery, { plate, shot: shotName, subject: cast.find((s) => s.id === subject)?.name, asked });
  const wishes = (list.length > 0 ? list : [specNow()]).map((spec) => wishOf(formatOf(spec), spec));

  const sameOfOthers = otherShots.length > 0 && (
    <Button className="mt-1 w-full" disabled={list.length === 0 && wrong !== null} onClick={() => setElsewhere(true)}>
      The same of other shots …
    </Button>
  );
  return (
    <>
      <PanelTitle
        actions={
          <PresetsMenu
            of="outputs"
            start={list.length > 1 ? `${list.length} outputs` : formatOf(list[0] ?? { ...asked, kind: format.id }).label}
            fits={(entry) => entry.kind === 'outputs'}
            item={(name) => ({ kind: 'outputs', name, content: { outputs: wishes } })}
            onUse={(entry) => entry.kind === 'outputs' && listFrom(entry.content.outputs)}
          />
        }
      >
        Output
      </PanelTitle>
      <form
        className="py-2"
        onSubmit={(e) => {
          e.preventDefault();
          void write([specNow()]);
        }}
      >
        <ChoiceSetting label="What" value={format.id} options={formats} onChange={setKind} />
        {needsSubject && cast.length > 0 && (
          <ChoiceSetting label="Subject" value={subject} options={cast.map((s) => ({ id: s.id, label: s.name }))} onChange={setChosen} />
        )}
        {optionsOf(format).map(([id, option]) => (
          <FormatOption
            key={`${format.id} ${id}`}
            option={option}
            value={chosenOf(id, option)}
            onValue={(value) => setChosenOptions((all) => ({ ...all, [`${format.id} ${id}`]: value }))}
          />
        ))}
        <div className="flex items-center gap-2 px-3 py-1 text-sm">
          <span className="w-20 shrink-0">Frames</span>
          <FrameBox label="First frame" value={first} onValue={setFirst} />
          <span className="text-quiet">to</span>
          <FrameBox label="Last frame" value={last} onValue={setLast} />
        </div>
        {(marked || first !== whole.first || last !== whole.last) && (
          <div className="flex flex-wrap gap-1 px-3 pb-1">
            {marked && (
              <Button className="!h-6 text-xs" disabled={first === marked.first && last === marked.last} onClick={() => take(marked)}>
                Marked range, {marked.first}–{marked.last}
              </Button>
            )}
            <Button className="!h-6 text-xs" disabled={first === whole.first && last === whole.last} onClick={() => take(whole)}>
              All frames
            </Button>
          </div>
        )}
        {tracks.length > 0 && (
          <ChoiceSetting
            label="Held still"
            value={tracks.some((t) => t.id === held) ? held : FREE}
            options={[{ id: FREE, label: 'As filmed' }, ...tracks.map((t) => ({ id: t.id, label: `By ${t.name}, as on frame ${frame + plate.firstNumber}` }))]}
            onChange={setHeld}
          />
        )}
        <details className="group">
          <summary className="flex cursor-pointer list-none items-center gap-1 px-3 py-1 text-quiet text-sm hover:text-ink">
            <ChevronRight className="size-4 shrink-0 transition-transform group-open:rotate-90" aria-hidden />
            <span className="truncate">Size, handles, names{deliveryWords(delivery, plate).map((word) => `, ${word}`)}</span>
          </summary>
          <DeliveryFields format={format} delivery={delivery} onDelivery={setDelivery} />
        </details>
        {wrong ? (
          <p role="alert" className="px-3 py-1 text-doubt text-sm">
            {wrong}
          </p>
        ) : (
          <p className="break-all px-3 py-1 font-mono text-2xs text-quiet" data-names>
            {names.join(' … ')}
          </p>
        )}
        {!wrong && missing > 0 && (
          <p className="px-3 py-1 text-doubt text-xs">
            The shot ends before the handles do: {missing} of {2 * delivery.handles} frames are not there.
          </p>
        )}
        {needsSubject && cast.length === 0 && <EmptyNote>There is no subject to write yet. Isolate one, or write the composed picture.</EmptyNote>}
        {save === 'offline' && <p className="px-3 py-1 text-doubt text-sm">The newest changes are not saved yet, so they would be missing.</p>}
        <div className="flex gap-1 px-3 pt-2">
          <Button type="submit" data-write tone="strong" className="min-w-0 flex-1" disabled={cannot}>
            Write {written > 0 ? `${written} ${written === 1 ? 'frame' : 'frames'}` : ''}
          </Button>
          <IconButton
            label="Add to the list"
            about="Outputs of the list are written in one pass over the frames."
            disabled={cannot || list.length >= 20}
            onClick={() => setList((all) => [...all, specNow()])}
          >
            <ListPlus />
          </IconButton>
        </div>
        {list.length === 0 && <div className="px-3">{sameOfOthers}</div>}
      </form>
      {list.length > 0 && (
        <OutputList list={list} busy={busy} onList={setList} onWrite={() => void write(list).then((asked) => asked && setList([]))}>
          {sameOfOthers}
        </OutputList>
      )}
      <OtherShots
        wishes={elsewhere ? wishes : null}
        subjectNames={(list.length > 0 ? list : [specNow()]).map((spec) => cast.find((s) => s.id === spec.subject)?.name ?? null)}
        onClose={() => setElsewhere(false)}
      />
    </>
  );
}

/** The field of one option, as its format describes it. */
function FormatOption<V extends OptionDescription['start']>({
  option,
  value,
  onValue,
}: {
  option: OptionDescription;
  value: V;
  onValue(value: OptionDescription['start']): void;
}) {
  if (option.kind === 'switch')
    return (
      <SwitchSetting label={option.label} checked={value === true} onChange={onValue}>
        {option.says}
      </SwitchSetting>
    );
  const options = option.options.map((o) => ({ id: String(o.value), label: o.label }));
  return (
    <ChoiceSetting
      label={option.label}
      value={String(value)}
      options={options}
      onChange={(id) => onValue(option.options.find((o) => String(o.value) === id)?.value ?? option.start)}
    />
  );
}

function FrameBox({ label, value, onValue }: { label: string; value: number; onValue(value: number): void }) {
  return (
    <input
      aria-label={label}
      type="number"
      className={`${TEXT_FIELD} text-right font-mono text-xs`}
      value={Number.isNaN(value) ? '' : value}
      onChange={(e) => onValue(e.target.valueAsNumber)}
      required
    />
  );
}
