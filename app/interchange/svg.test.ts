import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newPath } from '~/core/document/records.ts';
import { distanceBetween } from '~/core/path/between.ts';
import { corner, type Shape, smooth } from '~/core/path/path.ts';
import { READY_MADE, readyMade } from '~/core/path/ready-made.ts';
import { pathData, readSvg, SvgError, svgAnimated, svgOfFrame } from './svg.ts';

const SIZE = { width: 960, height: 540 };
const plain = (shape: Shape): Shape => shape.map(({ x, y, inX, inY, outX, outY }) => ({ x, y, inX, inY, outX, outY }));
const svg = (body: string) => `<svg xmlns="http://www.w3.org/2000/svg">${body}</svg>`;

describe('curves out to SVG and back', () => {
  it('lose nothing that SVG can hold', () => {
    const coordinate = fc.double({ min: -2000, max: 2000, noNaN: true });
    const vertex = fc.record({ x: coordinate, y: coordinate, inX: coordinate, inY: coordinate, outX: coordinate, outY: coordinate });
    fc.assert(
      fc.property(fc.array(vertex, { minLength: 2, maxLength: 12 }), (shape) => {
        const [back] = readSvg(svgOfFrame('Test', SIZE, [newPath('p', 0, shape, true)], 0));
        expect(back.closed).toBe(true);
        expect(back.shape).toHaveLength(shape.length);
        expect(distanceBetween(back.shape, shape)).toBeLessThan(1e-5);
      }),
      { seed: 4 },
    );
    for (const kind of READY_MADE) {
      const shape = plain(readyMade(kind, 100, 50, 400, 300, 960, { radius: 20, points: 7, inner: 0.4 }));
      expect(distanceBetween(readSvg(svgOfFrame(kind, SIZE, [newPath('p', 0, shape, true)], 0))[0].shape, shape)).toBeLessThan(1e-5);
    }
  });

  it('keep open curves open, several apart, and names that need care', () => {
    const open = newPath('a', 0, [corner(0, 0), smooth(50, 50, 5, 5), corner(90, 10)], false);
    const text = svgOfFrame('Kite & "tail" <1>', SIZE, [open, newPath('b', 0, [corner(1, 1), corner(9, 1), corner(9, 9)], true)], 0);
    expect(readSvg(text).map((c) => [c.closed, c.shape.length])).toEqual([
      [false, 3],
      [true, 3],
    ]);
  });

  it('move in one file, each frame as its own file has it', () => {
    const path = newPath('p', 0, [], true);
    const at = (x: number) => [corner(x, 0), corner(x + 10, 0), corner(x, 10)];
    path.shape = { keys: [0, 10].map((frame) => ({ frame, value: at(frame * 10), ease: 'linear' as const })) };
    const text = svgAnimated('Test', SIZE, [path], 11, 24);
    const values = /values="([^"]+)"/.exec(text)?.[1].split(';') ?? [];
    expect(values).toHaveLength(11);
    expect(values[3]).toBe(pathData(at(30), true));
    expect(svgOfFrame('Test', SIZE, [path], 3)).toContain(values[3]);
    expect(text).toContain(`dur="${11 / 24}`.slice(0, 9));
  });
});

describe('reading SVG from elsewhere', () => {
  it('takes basic shapes, relative commands, arcs and transforms of all that holds them', () => {
    const curves = readSvg(
      svg(`<g transform="translate(100 50)"><rect x="1" y="2" width="30" height="20" transform="scale(2)"/></g>
        <circle cx="5" cy="6" r="7"/><polygon points="0,0 10,0 10,10"/><path d="m5 5 h10 v10 q5 5 -10 0 z m 40 0 l 5 5 5 0 z"/>
        <path d="M0 0 A 10 10 0 0 1 20 0 Z"/><defs><path d="M0 0L1 1L2 0Z"/></defs>`),
    );
    expect(curves).toHaveLength(6);
    expect(curves[0].shape[0]).toMatchObject({ x: 102, y: 54 });
    expect(curves[0].shape[2]).toMatchObject({ x: 162, y: 94 });
    expect(curves.every((c) => c.closed)).toBe(true);
  });

  it.each<[string, string, RegExp]>([
    ['nothing of the kind', 'hello', /not a whole SVG/],
    ['a file that is cut off', '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0L', /not a whole SVG/],
    ['a page', '<html><body/></html>', /not a whole SVG/],
    ['no curves', svg('<text>Hi</text>'), /no curves/],
    ['path data that is none', svg('<path d="M 0 0 L nonsense"/>'), /not written as SVG/],
    ['positions that are no numbers', svg('<path d="M0 0L1e999 4L3 3Z"/>'), /no numbers|not written/],
    ['positions beyond any picture', svg('<path d="M0 0L9e8 4L3 3Z"/>'), /farther off/],
    ['too many points', svg(`<path d="M0 0${'L1 2L3 4'.repeat(6000)}Z"/>`), /more than 10000/],
    ['too many curves', svg('<path d="M0 0L1 0L1 1Z"/>'.repeat(201)), /201 curves/],
    ['entities that grow', '<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg xmlns="http://www.w3.org/2000/svg"><title>&a;</title></svg>', /no curves|not a whole/],
  ])('refuses %s in words', (_name, text, message) => {
    expect(() => readSvg(text)).toThrow(SvgError);
    expect(() => readSvg(text)).toThrow(message);
  });

  it('takes ten thousand points, and leaves out curves without length', () => {
    const many = Array.from({ length: 9_999 }, (_, i) => `L${i % 100} ${Math.floor(i / 100)}`).join('');
    expect(readSvg(svg(`<path d="M0 0${many}Z"/><path d="M5 5Z"/><path d="M4 4"/>`))).toHaveLength(1);
  });
});
