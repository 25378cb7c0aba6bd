/** Tracks to files and back, for other programs: JSON, and CSV with a row for each frame. */
import { z } from 'zod';
import { placedOf, placesOf } from '~/core/document/follow.ts';
import { newPointTrack, newRegionTrack } from '~/core/document/records.ts';
import { nameSchema, type Track } from '~/core/document/schema.ts';
import { jacobianAt, type MotionModel, normalised } from '~/core/math/homography.ts';
import { atOf, motionOf, turnAndScale } from '~/core/math/motion.ts';
import { corner } from '~/core/path/path.ts';
import { frameSchema } from '~/core/time/animated.ts';
import { rateSchema } from '~/core/time/rate.ts';

const MATCH_MOVE_FORMAT = 'mottrel-match-move';

const number = z.number().min(-1e9).max(1e9);
const rowSchema = z.strictObject({
  frame: frameSchema,
  /** Of its middle, plate pixels from the outer corner of the top left pixel. */
  x: number,
  y: number,
  /** Degrees, clockwise, and growth, since the frame on which it was set. */
  turn: number.default(0),
  scale: number.default(1),
  /** 0 to 1; from half on it is to be trusted. */
  quality: z.number().min(0).max(1).default(1),
  /** Row after row: takes places of the plate on the frame on which it was set to where they are. */
  homography: z.array(number).length(9).optional(),
});
const matchMoveSchema = z.strictObject({
  format: z.literal(MATCH_MOVE_FORMAT),
  version: z.literal(1),
  name: nameSchema,
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
  rate: rateSchema,
  /** The frame on which it was set, and its middle there. */
  start: frameSchema,
  x: number,
  y: number,
  frames: z.array(rowSchema).min(1, { error: 'There is no frame in it.' }).max(100_000),
});
export type MatchMove = z.infer<typeof matchMoveSchema>;
type Row = MatchMove['frames'][number];

export interface MatchMovePlate {
  width: number;
  height: number;
  rate: { num: number; den: number };
}

const digits = (v: number, places: number): number => Math.round(v * 10 ** places) / 10 ** places;

/** What a track is written as. Frames are numbered from 0. */
export function matchMove(track: Track, { width, height, rate }: MatchMovePlate): MatchMove {
  const [x, y] = track.pivot;
  const frames = placesOf(track).map(({ frame, value: { at, quality } }): Row => {
    const motion = normalised(motionOf(at, track.pivot));
    const { turn, scale } = turnAndScale(jacobianAt(motion, x, y));
    return {
      frame,
      x: at[0],
      y: at[1],
      turn: digits((turn * 180) / Math.PI, 4),
      scale: digits(scale, 6),
      quality,
      homography: motion.map((v, i) => digits(v, i < 6 ? 9 : 12)),
    };
  });
  return { format: MATCH_MOVE_FORMAT, version: 1, name: track.name, width, height, rate: { num: rate.num, den: rate.den }, start: track.start, x, y, frames };
}

const COLUMNS = ['frame', 'x', 'y', 'turn', 'scale', 'quality', 'h11', 'h12', 'h13', 'h21', 'h22', 'h23', 'h31', 'h32', 'h33'] as const;

export function matchMoveCsv(file: MatchMove): string {
  const rows = file.frames.map(({ frame, x, y, turn, scale, quality, homography = [] }) => [frame, x, y, turn, scale, quality, ...homography].join(','));
  return `${[COLUMNS.join(','), ...rows].join('\n')}\n`;
}

/** What is wrong with a file, in words for the artist. */
export class MatchMoveError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'MatchMoveError';
  }
}

/** Rows of CSV: a first line with the names of the columns, of which frame, x and y are needed. */
function readCsv(text: string): Row[] {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  const names = (lines[0] ?? '').split(/[,;\t]/).map((n) => n.trim().toLowerCase());
  for (const needed of ['frame', 'x', 'y']) if (!names.includes(needed)) throw new MatchMoveError(`The first line names no column "${needed}".`);
  return lines.slice(1).map((line, i) => {
    const cells = line.split(/[,;\t]/).map((c) => c.trim());
    const cell = (name: string): number | undefined => {
      const text = cells[names.indexOf(name)];
      if (!names.includes(name) || text === undefined || text === '') return undefined;
      const value = Number(text);
      if (!Number.isFinite(value)) throw new MatchMoveError(`Line ${i + 2}: "${text}" under ${name} is not a number.`);
      return value;
    };
    const homography = COLUMNS.slice(6).map(cell);
    const whole = homography.every((v) => v !== undefined);
    const result = rowSchema.safeParse({
      frame: cell('frame'),
      x: cell('x'),
      y: cell('y'),
      turn: cell('turn'),
      scale: cell('scale'),
      quality: cell('quality'),
      homography: whole ? homography : undefined,
    });
    if (!result.success) throw new MatchMoveError(`Line ${i + 2}: ${result.error.issues[0].path.join('.')} is missing or out of bounds.`);
    return result.data;
  });
}

/** A track from a file of {@link matchMove} or {@link matchMoveCsv}, for a plate of that size; throws MatchMoveError. */
export function trackFromFile(name: string, text: string, id: string, plate: { width: number; height: number; frames: number }): Track {
  const title = name.replace(/\.[^.]*$/, '').slice(0, 120) || 'Track';
  const file = /^\s*\{/.test(text) ? readJson(text) : null;
  if (file && (file.width !== plate.width || file.height !== plate.height))
    throw new MatchMoveError(`It is for a plate of ${file.width}×${file.height}; this one is ${plate.width}×${plate.height}.`);
  const rows = [...(file?.frames ?? readCsv(text))].sort((a, b) => a.frame - b.frame).filter((r) => r.frame < plate.frames);
  const twice = rows.find((r, i) => i > 0 && rows[i - 1].frame === r.frame);
  if (twice) throw new MatchMoveError(`Frame ${twice.frame} is in it twice.`);
  if (rows.length === 0) throw new MatchMoveError('There is no frame of this shot in it.');
  const begin = rows.find((r) => r.frame === file?.start) ?? rows[0];
  const pivot: [number, number] = file ? [file.x, file.y] : [begin.x, begin.y];
  const turns = rows.some((r) => r.turn !== 0 || r.scale !== 1 || (r.homography && (r.homography[1] !== 0 || r.homography[0] !== r.homography[4])));
  const model: MotionModel = rows.some((r) => r.homography && (r.homography[6] !== 0 || r.homography[7] !== 0)) ? 'perspective' : turns ? 'similarity' : 'move';
  const keys = rows.map(({ frame, x, y, turn, scale, quality, homography }) => {
    const [c, s] = [Math.cos((turn * Math.PI) / 180) * scale, Math.sin((turn * Math.PI) / 180) * scale];
    const at = homography ? atOf(homography, pivot, model) : model === 'move' ? [x, y] : [x, y, c, -s, s, c];
    const placed = placedOf({ at, quality, reason: null });
    return { frame, value: { ...placed, ...(frame === begin.frame ? { anchor: true as const } : {}) }, ease: 'linear' as const };
  });
  const start = { id, name: file?.name ?? title, frame: begin.frame, lines: plate.height };
  const half = plate.height / 20;
  const square = [corner(-half, -half), corner(half, -half), corner(half, half), corner(-half, half)].map((v) => ({
    ...v,
    x: v.x + pivot[0],
    y: v.y + pivot[1],
  }));
  const made = model === 'move' ? newPointTrack(start, ...pivot) : { ...newRegionTrack(start, [square], model), pivot };
  return { ...made, motion: { keys } };
}

function readJson(text: string): MatchMove {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new MatchMoveError('This file is not valid JSON: it may be cut off.');
  }
  const result = matchMoveSchema.safeParse(value);
  if (result.success) return result.data;
  const { path, message } = result.error.issues[0];
  throw new MatchMoveError(`This is not a track of Mottrel: ${message}${path.length > 0 ? ` (at ${path.join('.')})` : ''}`);
}
