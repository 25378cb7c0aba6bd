/** What an element has beside its settings: its name, words, footage or source, when it lives, how it blends, what it follows. */
import { useEffect, useId, useState } from 'react';
import { namedSplines } from '~/core/document/parts.ts';
import { type Element, ofSubject } from '~/core/document/schema.ts';
import type { ElementKind } from '~/core/elements/element.ts';
import { elementById } from '~/core/elements/index.ts';
import { valuesIn } from '~/core/time/animated.ts';
import { BringPictures } from '../cast/bring-pictures.tsx';
import { ChoiceSetting } from '../settings/fields.tsx';
import { type ChosenFootage, shownFootage } from '../state/footage.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { CoverFields } from './cover-fields.tsx';
import { ElementCorners } from './element-corners.tsx';
import { FootageChoice } from './footage-choice.tsx';

export function ElementFields({ item }: { item: Element }) {
  const store = useShotStore();
  const kind = elementById(item.element);
  const set = (label: string, values: Partial<Pick<Element, 'of' | 'footage' | 'words' | 'name'>>) =>
    store.getState().commit(label, [{ kind: 'assign', id: item.id, values }]);
  return (
    <>
      {kind.has === 'words' && <Words key={item.words} words={item.words} onWords={(words) => set('Set words', { words })} />}
      {kind.has === 'footage' && <Footage item={item} />}
      {kind.has === 'footage' && <CoverFields key={`${item.id} cover`} item={item} />}
      {(kind.has === 'subject' || kind.has === 'outline' || isFromOutline(item, kind)) && (
        <Source item={item} curves={kind.has !== 'subject'} onSource={(of) => set('Set source', { of })} />
      )}
      {kind.has === 'outline' && <OwnLines item={item} />}
      {kind.placed && <ElementCorners item={item} />}
    </>
  );
}

/** Whether one that has footage is made from an outline as it is set now, on any of its keys. */
const isFromOutline = ({ settings }: Element, { from }: ElementKind): boolean =>
  from !== undefined && settings[from.setting] !== undefined && valuesIn(settings[from.setting]).includes(from.is);

function Words({ words, onWords }: { words: string; onWords(words: string): void }) {
  const id = useId();
  const [text, setText] = useState(words);
  const take = () => text !== words && onWords(text);
  const missing = useMissingLetters(words);
  return (
    <div className="flex flex-wrap gap-2 px-3 py-1">
      <label htmlFor={id} className="w-20 shrink-0 pt-1 text-sm">
        Words
      </label>
      <textarea
        id={id}
        rows={Math.min(4, text.split('\n').length + 1)}
        maxLength={500}
        value={text}
        title="Enter begins a new line; Ctrl Enter takes the words"
        className="min-w-0 flex-1 resize-y rounded border border-line bg-well px-2 py-1 text-sm hover:border-edge"
        onChange={(e) => setText(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) take();
          if (e.key === 'Escape') setText(words);
        }}
      />
      {missing.length > 0 && <p className="w-full text-quiet text-xs">The typeface has no {missing.join(' ')}: left out of the picture.</p>}
    </div>
  );
}

/** Letters that the typeface of titles does not have. */
function useMissingLetters(words: string): string[] {
  const { pictures } = useWorkbench();
  const [missing, setMissing] = useState<string[]>([]);
  useEffect(() => {
    let left = false;
    // Letters of plain English are all there.
    if (/^[\x20-\x7e\n]*$/.test(words)) setMissing([]);
    else
      pictures?.render.missingLetters(words).then(
        (found) => !left && setMissing(found),
        () => {},
      );
    return () => {
      left = true;
    };
  }, [words, pictures]);
  return missing;
}

/** The shot whose plate it shows, or a picture from disk. */
function Footage({ item }: { item: Element }) {
  const store = useShotStore();
  const { plate } = useWorkbench();
  const show = (id: string, chosen: ChosenFootage) => {
    const { name, width, height, alpha } = chosen;
    // A name that nobody gave it says what it shows from here on.
    const named: Record<string, string> = /^Footage \d+$/.test(item.name) ? { name: name.slice(0, 120) } : {};
    // As large as it has to be to fill the plate; what has alpha is a thing, and no larger than it fits in.
    const [across, down] = [plate.width / width, plate.height / height];
    const scale = Math.round(1000 * (alpha ? Math.min(1, across, down) : Math.max(across, down))) / 10;
    store
      .getState()
      .commit('Set footage', [
        { kind: 'assign', id, values: { footage: shownFootage(chosen), ...named } },
        ...(elementById(item.element).placed ? [{ kind: 'animate' as const, id, setting: 'settings.scale', value: { constant: scale } }] : []),
      ]);
  };
  return (
    <>
      <FootageChoice
        label="Footage"
        about="The shot whose plate it shows; or a subject of another shot, or its finished picture, as they are there now."
        none="Choose …"
        shown={item.footage}
        onChoose={(chosen) => show(item.id, chosen)}
      />
      <div className="px-3 py-1">
        <p className="pb-1 text-quiet text-xs">Or a still, a sequence or a video from disk. It becomes a shot of the production; its alpha counts.</p>
        <BringPictures target={item.id} label="Pictures of an element" onBroughtIn={show} />
      </div>
    </>
  );
}

const OF_LANE = 'lane';

/** Drawing lines of its own, and taking them away. */
function OwnLines({ item }: { item: Element }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const count = item.drawn.length;
  return (
    <div className="flex flex-wrap items-center gap-1 px-3 py-1 pl-[6.25rem] text-sm">
      <Button
        className="!h-6 text-xs"
        title="Draw free lines in the picture; they belong to this element alone"
        onClick={() => view.getState().setTool('scribble')}
      >
        {count > 0 ? 'Draw more' : 'Draw it by hand'}
      </Button>
      {count > 0 && (
        <>
          <span className="text-quiet text-xs">{count === 1 ? 'one line' : `${count} lines`}</span>
          <Button className="!h-6 text-xs" onClick={() => store.getState().commit('Take lines away', [{ kind: 'assign', id: item.id, values: { drawn: [] } }])}>
            Take away
          </Button>
        </>
      )}
    </div>
  );
}

/** The subject, or the Spline, that it is made from. */
function Source({ item, curves, onSource }: { item: Element; curves: boolean; onSource(of: string | null): void }) {
  const cast = useShot((s) => s.document.cast);
  const own = ofSubject(item.lane) ? cast.find((s) => s.id === item.subject) : undefined;
  const subjects = cast.flatMap((s) => [{ id: s.id, label: s.name }, ...(curves ? namedSplines([s]) : [])]);
  const gone = item.of !== null && !subjects.some((s) => s.id === item.of);
  return (
    <>
      <ChoiceSetting
        label="Made from"
        about="The subject, or the curve, whose outline it takes."
        value={item.of ?? OF_LANE}
        options={[
          { id: OF_LANE, label: item.drawn.length > 0 ? 'Lines drawn here' : own ? `The subject of its lane` : 'Choose …' },
          ...(gone ? [{ id: item.of as string, label: 'Gone' }] : []),
          ...subjects,
        ]}
        onChange={(id) => onSource(id === OF_LANE ? null : id)}
      />
      {(gone || (!own && item.of === null && item.drawn.length === 0)) && (
        <p className="px-3 pb-1 text-quiet text-xs">
          {gone ? 'What it was made from is no longer in the cast' : 'In this lane it has no subject of its own'}: choose what it is made from.
        </p>
      )}
    </>
  );
}
