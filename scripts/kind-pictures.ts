/** A picture of each effect and each element, made by the program itself from the demo film: what the gallery and the docs show. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import sharp from 'sharp';
import { renderPicture } from '../core/compose/render-picture.ts';
import { newImported } from '../core/document/part-kinds/imported.ts';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../core/document/records.ts';
import type { Lane, LaneItem, ShotDocument } from '../core/document/schema.ts';
import { EFFECTS } from '../core/effects/index.ts';
import { newLaneEffect } from '../core/effects/lane-effect.ts';
import { constantsOf, type SettingValue } from '../core/effects/settings.ts';
import { ELEMENTS, newElement } from '../core/elements/index.ts';
import { newVariant, VARIANTS } from '../core/elements/variants.ts';
import { fromBytes, fromGray8, type Size, toBytes } from '../core/image/picture.ts';
import type { Sources } from '../core/matte/sources.ts';
import { corner } from '../core/path/path.ts';
import { laidOut, STARTS } from '../core/starts/starts.ts';
import { letters } from '../server/outputs/titles.ts';
import { ROOT } from '../server/root.ts';

const PLATE: Size = { width: 960, height: 540 };
const FRAME = 60;
const SHOWN: Size = { width: 240, height: 135 };

const raw = (clip: string, frame: number, format: 'rgba' | 'gray', { width, height }: Size): Buffer =>
  execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      path.join(ROOT, 'demo', 'clips', clip),
      '-vf',
      `select=eq(n\\,${frame}),scale=${width}:${height}`,
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-pix_fmt',
      format,
      '-',
    ],
    { maxBuffer: 2 ** 28 },
  );

const sources: Sources = {
  plate: async (frame, size) => fromBytes(raw('courier-on-the-quay.mp4', frame, 'rgba', size), size.width, size.height),
  footage: async (_footage, frame, size) => fromBytes(raw('dune-kite.mp4', frame, 'rgba', size), size.width, size.height),
  imported: async (_footage, frame, size) => fromGray8(raw('courier-on-the-quay.matte.mkv', frame, 'gray', size), size),
  peel: async () => {
    throw new RangeError('No Peel is shown here.');
  },
  letters,
};

const FOOTAGE = { id: 'dunes', ...PLATE, frames: 48, alpha: false };

function shot(): ShotDocument {
  const document = newDocument('Courier on the quay', { ...PLATE, frames: 120, rate: { num: 24, den: 1 }, firstNumber: 1 });
  const sign = newPath('sign', 0, [corner(620, 90), corner(860, 130), corner(840, 300), corner(600, 280)], true);
  const line = { ...newSpline('sign-part', 'Sign', [sign]), enabled: false };
  document.cast.push({ ...newSubject('courier', 'Courier'), parts: [newImported('matte', 'Matte', 'courier', 120), line] });
  return document;
}

/** Settings that show best what a kind does, and its lane where that is not behind the subject. */
const SHOWS: Record<string, { lane?: Lane; of?: string; settings?: Record<string, SettingValue> }> = {
  grade: { settings: { exposure: -1.2, saturation: 30 } },
  contrast: { settings: { brightness: -8, contrast: 170 } },
  levels: { settings: { black: 25, white: 75, redLow: 12 } },
  curves: { settings: { all: [0, 0.12, 0.3, 0.2, 0.7, 0.86, 1, 0.96], blue: [0, 0.2, 1, 0.8] } },
  temperature: { settings: { temperature: 80 } },
  hue: { settings: { turn: 140 } },
  match: { settings: { red: [0, 0.08, 0.5, 0.62, 1, 1], blue: [0, 0, 0.5, 0.36, 1, 0.8] } },
  spot: { settings: { exposure: 1, around: -2, radius: 220 } },
  vignette: { lane: 'front', settings: { exposure: -3, inner: 20 } },
  'light-wrap': { lane: 'inside', settings: { width: 26, strength: 240 } },
  'directional-blur': { settings: { length: 90, angle: 8 } },
  'lens-blur': { settings: { radius: 16, bloom: 3, from: 60 } },
  'gaussian-blur': { settings: { x: 16, y: 16 } },
  glow: { lane: 'front', settings: { from: 45, radius: 30, strength: 170 } },
  sharpen: { settings: { amount: 400, radius: 3 } },
  key: { lane: 'inside', settings: { low: 20, high: 45 } },
  displace: { settings: { across: 40, down: 40, size: 90 } },
  'channel-offset': { settings: { redX: -14, blueX: 14 } },
  pixelate: { settings: { size: 30 } },
  'break-up': { settings: { shift: 90, part: 14 } },
  shake: { lane: 'front', settings: { turn: 24, across: 90, seed: 4 } },
  grain: { lane: 'front', settings: { strength: 14, size: 5 } },
  solid: {},
  title: { settings: { x: 400, y: 300, size: 150 } },
  clean: { lane: 'inside' },
  patch: { lane: 'front', of: 'sign-part', settings: { shiftX: -220, softness: 6 } },
  cutout: { settings: { x: 200, scale: 70 } },
  footage: { lane: 'backdrop' },
  shadow: { settings: { direction: 20, length: 90, strength: 75 } },
  card: { settings: { x: 620, y: 230, width: 420, height: 240 } },
  gradient: { settings: { colours: [0, 0.07, 0.16, 0.3, 1, 0.55, 0.86, 0.5, 0.3, 0.7, 1, 0.98, 0.9, 0.7, 0.1] } },
  shape: { lane: 'front', of: 'sign-part', settings: { fillAlpha: 55 } },
  lids: { lane: 'front', settings: { x: 480, y: 270, width: 860, height: 480, form: 'oval', moves: 'close', begins: 0, closing: 100 } },
  line: { of: 'courier', settings: { width: 8, beside: 8, glow: 12 } },
  rings: { settings: { rate: 3 } },
  beam: { settings: { fromX: 80, fromY: 420, toX: 880, toY: 120 } },
  noise: { settings: { size: 180, low: 35 } },
  wipe: { settings: { done: 55, softness: 120 } },
  way: { lane: 'front', settings: { way: 'push', goes: 'left', begins: 55, takes: 10 } },
};

let count = 0;

function itemFor(document: ShotDocument, id: string): LaneItem {
  const variant = VARIANTS.find((v) => v.id === id);
  if (variant) return newVariant(document, () => `${id}-${count++}`, 'behind', 'courier', variant);
  const { lane = 'behind', of, settings = {} } = SHOWS[id] ?? {};
  const subject = lane === 'front' || lane === 'backdrop' ? null : 'courier';
  const effect = EFFECTS.some((e) => e.id === id);
  const item: LaneItem = effect ? newLaneEffect(id, lane, subject, id, PLATE) : newElement(document, id, lane, subject, id);
  const made = { ...item, settings: { ...item.settings, ...constantsOf(settings) } };
  if (made.type === 'effect') return { ...made, leaves: lane === 'inside' && made.leaves };
  const has = ELEMENTS.find((e) => e.id === id)?.has;
  return { ...made, of: of ?? null, footage: has === 'footage' ? FOOTAGE : null, words: has === 'words' ? 'Low Tide' : '' };
}

async function write(name: string, document: ShotDocument, frame: number): Promise<void> {
  const picture = await renderPicture(document, frame, sources, { width: 2 * SHOWN.width, height: 2 * SHOWN.height });
  const bytes = Buffer.from(toBytes(picture).buffer);
  await sharp(bytes, { raw: { width: picture.width, height: picture.height, channels: 4 } })
    .resize(SHOWN.width, SHOWN.height)
    .webp({ quality: 78 })
    .toFile(path.join(ROOT, 'public', 'kinds', `${name}.webp`));
}

/** Starts that are about the sign; and frames on which others show best what they make. */
const OF_THE_SIGN = new Set(['sign-replaced', 'through-the-window', 'lamp-blinks', 'boundary', 'not-to-be-seen']);
const START_FRAMES: Record<string, number> = { 'drawn-outline': 34, 'lamp-blinks': 32, rising: 38, 'cut-in-two': 66, bursts: 56 };

/** Writes all of them. */
export async function writeKindPictures(): Promise<void> {
  for (const { id } of [...ELEMENTS, ...VARIANTS, ...EFFECTS]) {
    const document = shot();
    document.lanes.push(itemFor(document, id));
    await write(id, document, FRAME);
  }
  for (const start of STARTS) {
    const document = shot();
    const [courier] = document.cast;
    document.cast.push({
      ...newSubject('sign-subject', 'Sign'),
      parts: courier.parts.filter((p) => p.type === 'spline').map((p) => ({ ...p, id: 'sign-own', enabled: true })),
    });
    const subject = OF_THE_SIGN.has(start.id) ? 'sign-subject' : 'courier';
    const asked = { subject, footage: FOOTAGE, words: 'Low Tide', leader: null };
    document.lanes.push(...laidOut(start, document, asked, () => `start-${count++}`));
    await write(`start-${start.id}`, document, START_FRAMES[start.id] ?? FRAME);
  }
}
