/** Curves of a part to files and back: SVG of a frame or of every frame, SVG that moves, and our JSON. */
import { strToU8, zipSync } from 'fflate';
import { type CurvesFile, curvesFile, curvesFileSchema } from '~/core/document/curves-file.ts';
import type { Edit } from '~/core/document/edits.ts';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { newPath } from '~/core/document/records.ts';
import type { SplinePart, Subject } from '~/core/document/schema.ts';
import type { FileToSave } from '../state/save-file.ts';
import type { PlateFacts } from '../state/workbench-context.tsx';
import { readSvg, SvgError, svgAnimated, svgOfFrame } from './svg.ts';

export type CurvesKind = 'svg' | 'svg-frames' | 'svg-moving' | 'json';

/** A name as the beginning of a file's name; `otherwise` where nothing of it can stand there. */
export const fileStem = (name: string, otherwise: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '') || otherwise;

/** What a part's curves are written as; a file a frame comes as a zip. */
export function writeCurves(part: SplinePart, plate: PlateFacts, frame: number, kind: CurvesKind): FileToSave {
  const stem = fileStem(part.name, 'curves');
  const svgName = (f: number) => `${stem}.${String(f + plate.firstNumber).padStart(4, '0')}.svg`;
  if (kind === 'json') return { content: `${JSON.stringify(curvesFile(part.name, plate, part.paths), null, 2)}\n`, name: `${stem}.curves.json` };
  if (kind === 'svg') return { content: svgOfFrame(part.name, plate, part.paths, frame), name: svgName(frame) };
  if (kind === 'svg-frames') {
    const files = Array.from({ length: plate.frames }, (_, f) => [svgName(f), strToU8(svgOfFrame(part.name, plate, part.paths, f))]);
    return { content: new Uint8Array(zipSync(Object.fromEntries(files))), name: `${stem}.svg.zip` };
  }
  const fps = plate.rate.num / plate.rate.den;
  return { content: svgAnimated(part.name, plate, part.paths, plate.frames, fps), name: `${stem}.moving.svg` };
}

/** Reads a curves file or an SVG. Throws SvgError with what is wrong. */
export function readCurves(name: string, text: string, frame: number): CurvesFile {
  const title = name.replace(/\.[^.]*$/, '').slice(0, 120) || 'Curves';
  if (!/^\s*\{/.test(text)) {
    const curves = readSvg(text).map(({ shape, closed }) => ({
      closed,
      between: 'straight' as const,
      shape: { keys: [{ frame, value: shape, ease: 'linear' as const }] },
    }));
    return { format: 'mottrel-curves', version: 1, name: title, width: 1, height: 1, curves };
  }
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new SvgError('This file is not valid JSON: it may be cut off.');
  }
  const result = curvesFileSchema.safeParse(value);
  if (result.success) return result.data;
  const { path, message } = result.error.issues[0];
  throw new SvgError(`These are not curves of Mottrel: ${message}${path.length > 0 ? ` (at ${path.join('.')})` : ''}`);
}

/** Edits that add the curves to a subject as a part of their own. */
export function insertCurves(subject: Subject, file: CurvesFile, newId: () => string): { edits: Edit[]; partId: string } {
  const partId = newId();
  const paths = file.curves.map((c) => ({ ...newPath(newId(), 0, [], c.closed), between: c.between, shape: c.shape }));
  return { edits: [{ kind: 'insert', parent: subject.id, index: subject.parts.length, record: newSpline(partId, file.name, paths) }], partId };
}
