import { describe, expect, it } from 'vitest';
import { applyChange } from '~/core/document/edits.ts';
import { newImported } from '~/core/document/part-kinds/imported.ts';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '~/core/document/records.ts';
import type { ShotDocument } from '~/core/document/schema.ts';
import { EFFECTS } from '~/core/effects/index.ts';
import { newLaneEffect } from '~/core/effects/lane-effect.ts';
import { ELEMENTS, newElement } from '~/core/elements/index.ts';
import { corner } from '~/core/path/path.ts';
import { type Animated, hasKeys, keyFrames } from '~/core/time/animated.ts';
import { keyAllEdits, settingsOfEdge, settingsOfItem, settingsOfPart } from './all-settings.ts';

const square = [corner(0, 0), corner(10, 0), corner(10, 10)];

function shot(): ShotDocument {
  const document = newDocument('Test', { width: 100, height: 50, frames: 60, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Kite');
  subject.parts.push(newSpline('sail', 'Sail', [{ ...newPath('path', 0, square, true), shape: { constant: square } }]), newImported('m', 'Matte', 'f', 60));
  document.cast.push(subject);
  document.lanes.push(
    ...EFFECTS.map((e) => newLaneEffect(e.id, 'behind', 's', e.id, document.plate)),
    ...ELEMENTS.map((e) => newElement(document, `e-${e.id}`, 'behind', 's', e.id)),
  );
  return document;
}

/** How many settings of a record have a key on frame 7, and how many can have one. */
function keyed(values: Record<string, unknown>): [number, number] {
  const animated = Object.values(values).filter((v): v is Animated<unknown> => typeof v === 'object' && v !== null && ('constant' in v || 'keys' in v));
  return [animated.filter((v) => hasKeys(v) && keyFrames(v).includes(7)).length, animated.length];
}

describe('keying all settings at once', () => {
  it('puts a key here for everything that a part can change over time', () => {
    const document = shot();
    const [sail, matte] = document.cast[0].parts;
    const next = applyChange(document, keyAllEdits([...settingsOfPart(sail), ...settingsOfPart(matte)], 7)).document;
    const [spline, imported] = next.cast[0].parts;
    expect([spline.opacity, imported.opacity, spline.type === 'spline' && spline.paths[0].shape, imported.type === 'imported' && imported.offset]).toEqual(
      Array.from({ length: 4 }, () => ({ keys: [expect.objectContaining({ frame: 7 })] })),
    );
  });

  it('and of an edge, none left out', () => {
    const document = shot();
    const { edge } = applyChange(document, keyAllEdits(settingsOfEdge(document.cast[0]), 7)).document.cast[0];
    expect(keyed(edge)).toEqual([15, 15]);
  });

  it.each(shot().lanes.map((item) => [item.id, item] as const))('and of %s', (_id, item) => {
    const { lanes } = applyChange(shot(), keyAllEdits(settingsOfItem(item), 7)).document;
    const next = lanes.find((l) => l.id === item.id);
    const [on, of] = keyed({ mix: next?.mix, ...next?.settings });
    expect([on, of]).toEqual([of, 1 + Object.keys(item.settings).length]);
  });
});
