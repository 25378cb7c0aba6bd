import { describe, expect, it } from 'vitest';
import { applyChange, type Edit } from '~/core/document/edits.ts';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '~/core/document/records.ts';
import type { ShotDocument, SplinePart } from '~/core/document/schema.ts';
import { corner } from '~/core/path/path.ts';
import { keyFrames } from '~/core/time/animated.ts';
import { columnsOf, foldColumns } from './columns.ts';
import { copyKeys, deleteEdits, easeEdits, keyHereEdits, pasteEdits, reverseEdits, shiftEdits, smoothEdits, stretchEdits, thinEdits } from './key-work.ts';

const FRAMES = 60;
const at = (x: number) => [corner(x, 0), corner(x + 10, 0), corner(x, 10)];

function shot(): ShotDocument {
  const document = newDocument('Test', { width: 100, height: 50, frames: FRAMES, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const part = (id: string, ...frames: number[]): SplinePart => {
    const path = newPath(`${id}-path`, 0, [], true);
    path.shape = { keys: frames.map((frame) => ({ frame, value: at(frame), ease: 'linear' as const })) };
    return newSpline(id, id, [path]);
  };
  const subject = newSubject('s', 'Kite');
  subject.parts.push(part('sail', 4, 8, 12, 30), part('tail', 2));
  subject.edge.featherOut = {
    keys: [
      { frame: 8, value: 1, ease: 'linear' },
      { frame: 20, value: 9, ease: 'linear' },
    ],
  };
  document.cast.push(subject);
  return document;
}

const columns = (document: ShotDocument) => columnsOf(document.cast[0], document.lanes);
const keysAfter = (document: ShotDocument, edits: Edit[]) => {
  const { cast } = applyChange(document, edits).document;
  const [sail, tail] = cast[0].parts as SplinePart[];
  return { sail: keyFrames(sail.paths[0].shape), tail: keyFrames(tail.paths[0].shape), feather: keyFrames(cast[0].edge.featherOut) };
};

describe('work on the keys of a range', () => {
  const range = { first: 5, last: 20 };

  it('deletes, moves, stretches and reverses what lies in it, in all columns', () => {
    const document = shot();
    const all = columns(document);
    expect(keysAfter(document, deleteEdits(all, range))).toEqual({ sail: [4, 30], tail: [2], feather: [] });
    expect(keysAfter(document, shiftEdits(all, range, 5, FRAMES))).toEqual({ sail: [4, 13, 17, 30], tail: [2], feather: [13, 25] });
    expect(keysAfter(document, stretchEdits(all, range, 2, FRAMES))).toEqual({ sail: [4, 11, 19, 30], tail: [2], feather: [11, 35] });
    expect(keysAfter(document, reverseEdits(all, range)).feather).toEqual([8, 20]);
  });

  it('works on the picked column alone, and on all settings of folded ones', () => {
    const document = shot();
    const [sail] = columns(document);
    expect(keysAfter(document, deleteEdits([sail], range))).toEqual({ sail: [4, 30], tail: [2], feather: [8, 20] });
    const folded = foldColumns(columns(document), new Set(['Edge', 'sail']));
    expect(folded.map((c) => [c.owner, c.label])).toEqual([
      ['sail', 'all'],
      ['tail', 'shape'],
      ['Edge', 'all'],
    ]);
  });

  it('has nothing to say where there is nothing to do', () => {
    const document = shot();
    expect(deleteEdits(columns(document), { first: 40, last: 50 })).toEqual([]);
    expect(thinEdits(columns(document), { first: 40, last: 50 }, 1)).toEqual([]);
  });

  it('keys what is there on a frame, changing no frame', () => {
    const document = shot();
    expect(keysAfter(document, keyHereEdits(columns(document), 10))).toEqual({ sail: [4, 8, 10, 12, 30], tail: [2, 10], feather: [8, 10, 20] });
    // What never changes gets none: that is what keying all settings is for.
    const { edge } = applyChange(document, keyHereEdits(columns(document), 10)).document.cast[0];
    expect(edge.grow).toEqual({ constant: 0 });
  });

  it('copies, and pastes where it came from or into a setting of the same name', () => {
    const document = shot();
    const [sail, tail] = columns(document);
    const copied = copyKeys([sail], range);
    expect(copied[0].keys.map((k) => k.frame)).toEqual([8, 12]);
    expect(keysAfter(document, pasteEdits([sail], copied, 40, FRAMES)).sail).toEqual([4, 8, 12, 30, 40, 44]);
    expect(keysAfter(document, pasteEdits([tail], copied, 40, FRAMES)).tail).toEqual([2, 40, 44]);
  });

  it('thins an even motion to its ends, smooths, and sets eases', () => {
    const document = shot();
    const all = columns(document);
    expect(keysAfter(document, thinEdits(all, { first: 0, last: FRAMES }, 0.01)).sail).toEqual([4, 30]);
    expect(smoothEdits(all, range, 0.5).length).toBeGreaterThan(0);
    const { document: eased } = applyChange(document, easeEdits(all, range, 'hold'));
    const sail = eased.cast[0].parts[0] as SplinePart;
    expect('keys' in sail.paths[0].shape && sail.paths[0].shape.keys.map((k) => k.ease)).toEqual(['linear', 'hold', 'hold', 'linear']);
  });
});
