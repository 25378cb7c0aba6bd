import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { applyChange } from '~/core/document/edits.ts';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '~/core/document/records.ts';
import { corner } from '~/core/path/path.ts';
import { insertCurves, readCurves, writeCurves } from './curves-in-out.ts';
import { SvgError } from './svg.ts';

const PLATE = {
  id: 'p',
  width: 960,
  height: 540,
  proxyWidth: 960,
  proxyHeight: 540,
  frames: 20,
  rate: { num: 24, den: 1 },
  firstNumber: 1001,
  hasSound: false,
  damage: [],
};
const part = newSpline('part', 'Kite & tail', [newPath('path', 3, [corner(1, 2), corner(30, 2), corner(30, 40)], true)]);
part.paths[0].between = 'turning';

describe('curves of a part as files', () => {
  it('come back from JSON with keys, ways between them and all', () => {
    const { content, name } = writeCurves(part, PLATE, 0, 'json');
    expect(name).toBe('kite-tail.curves.json');
    const file = readCurves(name, content as string, 0);
    expect(file.curves[0]).toEqual({ closed: true, between: 'turning', shape: part.paths[0].shape });
    const document = newDocument('Test', PLATE_INFO);
    document.cast.push(newSubject('s', 'Subject'));
    let n = 0;
    const { edits, partId } = insertCurves(document.cast[0], file, () => `id${n++}`);
    const [made] = applyChange(document, edits).document.cast[0].parts;
    expect(made).toMatchObject({ id: partId, name: 'Kite & tail', type: 'spline' });
  });

  it('are named by frame as SVG, and keyed on the frame they are brought in on', () => {
    const { content, name } = writeCurves(part, PLATE, 4, 'svg');
    expect(name).toBe('kite-tail.1005.svg');
    expect(readCurves(name, content as string, 7).curves[0].shape).toMatchObject({ keys: [{ frame: 7 }] });
    expect(writeCurves(part, PLATE, 4, 'svg-moving').content).toContain('<animate');
  });

  it('come as a file a frame in a zip, each the same as alone', () => {
    const files = unzipSync(writeCurves(part, PLATE, 0, 'svg-frames').content as Uint8Array);
    expect(Object.keys(files)).toHaveLength(20);
    expect(strFromU8(files['kite-tail.1005.svg'])).toBe(writeCurves(part, PLATE, 4, 'svg').content);
  });

  it.each([
    ['{"format":', /not valid JSON/],
    ['{"format":"other"}', /not curves of Mottrel/],
    [
      '{"format":"mottrel-curves","version":1,"name":"x","width":10,"height":10,"curves":[{"closed":true,"between":"straight","shape":{"constant":[{"x":null}]}}]}',
      /curves\.0/,
    ],
  ])('refuse %s', (text, message) => {
    expect(() => readCurves('x.json', text, 0)).toThrow(SvgError);
    expect(() => readCurves('x.json', text, 0)).toThrow(message);
  });
});

const PLATE_INFO = { width: 960, height: 540, frames: 20, rate: { num: 24, den: 1 }, firstNumber: 1001 };
