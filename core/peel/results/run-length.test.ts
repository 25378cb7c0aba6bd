import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type PropagationState, packState, unpackState } from './propagation-state.ts';
import { runLengthDecode, runLengthEncode } from './run-length.ts';

describe('packed masks', () => {
  it('come back as they were, whatever they hold', () => {
    const masks = fc.array(fc.tuple(fc.integer({ min: 1, max: 40_000 }), fc.integer({ min: 0, max: 1 })), { maxLength: 12 });
    fc.assert(
      fc.property(masks, (runs) => {
        const mask = Uint8Array.from(runs.flatMap(([n, v]) => Array<number>(n).fill(v)));
        expect(Buffer.compare(runLengthDecode(runLengthEncode(mask), mask.length), mask)).toBe(0);
      }),
      { seed: 3, numRuns: 60 },
    );
  });

  it('take little room, and are refused where they do not fit', () => {
    const mask = new Uint8Array(960 * 540);
    for (let y = 100; y < 400; y++) mask.fill(1, y * 960 + 200, y * 960 + 500);
    const packed = runLengthEncode(mask);
    expect(packed.length).toBeLessThan(1500);
    expect(() => runLengthDecode(packed, mask.length - 1)).toThrow(/larger/);
    expect(() => runLengthDecode(packed.subarray(0, 50), mask.length)).toThrow(/too soon/);
  });
});

describe('packed states', () => {
  const mask = Uint8Array.from([0, 1, 1, 0, 1, 0, 0, 0]);
  const state: PropagationState = {
    mask,
    zone: Uint8Array.from(mask, (v) => 1 - v),
    centres: Float32Array.from([1.5, -2.25, 3]),
    second: { mask: Uint8Array.from([1, 0]), centres: Float32Array.from([0.75, -1]) },
    doubt: { doubt: 41, reasons: ['two-ways'], places: [0.25, 0.5] },
    odds: -1.25,
    usual: 3.75,
    lost: true,
    seen: { frame: 7, mask, centres: Float32Array.from([0.5]), secondCentres: Float32Array.from([0.25, 8]), back: [1, 0, 2, 0, 1, 3, 0, 0, 1] },
    dropped: { frame: 5, mask: Uint8Array.from(mask, (v) => 1 - v) },
    back: [1, 0.25, -3, -0.25, 1, 4.5, 0, 0, 1],
    pace: [1, 0, 6.5, 0, 1, -2, 0, 0, 1],
  };

  it('come back as they were', () => {
    expect(unpackState(packState(state))).toEqual(state);
    const plain = { ...state, zone: null, seen: null, dropped: null, lost: false, pace: null };
    expect(unpackState(packState(plain))).toEqual(plain);
  });

  it('are refused when they were cut off', () => {
    const bytes = packState(state);
    for (const length of [2, 10, bytes.length - 1]) expect(() => unpackState(bytes.subarray(0, length))).toThrow();
  });
});
