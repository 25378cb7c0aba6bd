/**
 * Numbered pictures as footage. Frame n is the picture with the n-th number, for ever: one that is missing, damaged or of
 * another size keeps its place, and what is seen there is chosen, never guessed.
 */
import { link, mkdir, readdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { LAST_FRAME } from '../../core/time/animated.ts';
import type { Config } from '../config.ts';
import { Problem } from '../problem.ts';
import { firstFault, run } from './ffmpeg.ts';
import { checkPicture, isDamaged, PICTURE_EXTENSIONS, type PictureCheck } from './picture-check.ts';
import { type Damage, type Filling, type Probe, probeFile } from './probe.ts';
import { shownName } from './stored-name.ts';

const PICTURE = new RegExp(`\\.(${PICTURE_EXTENSIONS.join('|')})$`, 'i');
const refuse = (message: string) => new Problem('bad-sequence', message, 422);
const placed = (frame: number, extension: string): string => `${String(frame).padStart(7, '0')}${extension}`;

/** Numbers in a row that may be missing, beside as many as there are pictures. */
const GAP = 100;

export interface Examined {
  probe: Probe;
  sourceName: string;
  firstNumber: number;
}

interface Numbered {
  stored: string;
  shown: string;
  number: bigint;
  extension: string;
}

/** The files in the order of their numbers. @throws Problem where they are not one sequence */
function inOrder(names: string[]): Numbered[] {
  const files = names.map((stored): Numbered => {
    const shown = shownName(stored);
    const match = /(\d+)(?=\.[^.]+$)/.exec(shown);
    if (!PICTURE.test(shown) || !match)
      throw refuse(`"${shown}" is not a numbered picture. A sequence is pictures of one kind with a number at the end of the name, such as plate.0001.png.`);
    return { stored, shown, number: BigInt(match[1]), extension: path.extname(shown).toLowerCase() };
  });
  files.sort((a, b) => (a.number < b.number ? -1 : a.number > b.number ? 1 : 0));
  for (const [i, file] of files.entries()) {
    if (file.extension !== files[0].extension)
      throw refuse(`The files are of different kinds ("${files[0].shown}", "${file.shown}"). Choose one sequence at a time.`);
    if (i === 0) continue;
    const before = files[i - 1];
    if (file.number === before.number)
      throw refuse(`Two files have the number ${file.number}: "${before.shown}" and "${file.shown}". Choose one sequence at a time.`);
    const missing = file.number - before.number - 1n;
    if (missing > BigInt(Math.max(GAP, files.length)))
      throw refuse(`Between "${before.shown}" and "${file.shown}" ${missing} numbers are missing: these are hardly one sequence. Bring them in apart.`);
  }
  return files;
}

/** Numbers the files by their frames, from 0, in place, and looks at the first of them that can be read. */
export async function examineSequence(dir: string, names: string[], rate: string, sourceName: string, limits: Config['limits']): Promise<Examined> {
  const files = inOrder(names);
  const [{ number: first, extension }] = files;
  const count = Number(files[files.length - 1].number - first) + 1;
  if (count > limits.frames)
    throw refuse(`The sequence goes over ${count} frames; at most ${limits.frames} are taken. Choose a part of it, or raise MOTTREL_MAX_FRAMES.`);
  const frameOf = ({ number }: Numbered) => Number(number - first);
  let sound: Numbered | null = null;
  let orientation = 1;
  let worst = '';
  for (const file of files) {
    const check = await checkPicture(path.join(dir, file.stored));
    if (isDamaged(check)) {
      worst ||= `"${file.shown}" ${check.damage}`;
      continue;
    }
    [sound, orientation] = [file, check.orientation];
    break;
  }
  if (!sound) throw refuse(files.length === 1 ? `${worst}.` : `None of the ${files.length} pictures can be read: ${worst}.`);
  const probe = await probeFile(path.join(dir, sound.stored), sound.shown, limits, { pattern: `%07d${extension}`, count, rate, orientation }).catch(
    (error: unknown) => {
      throw error instanceof RangeError ? refuse(error.message) : error;
    },
  );
  for (const file of files) await rename(path.join(dir, file.stored), path.join(dir, placed(frameOf(file), extension)));
  if (first + BigInt(count) <= BigInt(LAST_FRAME)) return { probe, sourceName, firstNumber: Number(first) };
  // Such numbers are dates or times, more often than frames.
  const notes = [...probe.notes, `Its first number, ${first}, is larger than a frame can have (${LAST_FRAME}): its frames are numbered from 0.`];
  return { probe: { ...probe, notes }, sourceName, firstNumber: 0 };
}

/** Pictures looked at at once: reading one and decoding another go together. */
const AT_ONCE = 4;
/** Where the pictures lie as they are shown, where that is not as they came. */
const SHOWN = 'shown';

/** What is wrong with a sequence, frame by frame, in order. */
async function damageOf(dir: string, { input, framesGuess, stored }: Probe, signal?: AbortSignal): Promise<Damage[]> {
  const extension = path.extname(input);
  const there = new Set(await readdir(dir));
  const out: Damage[] = [];
  let next = 0;
  const look = async () => {
    for (;;) {
      const frame = next++;
      if (frame >= framesGuess || signal?.aborted) return;
      const name = placed(frame, extension);
      const why = there.has(name) ? wrongWith(await checkPicture(path.join(dir, name)), stored) : 'is missing';
      if (why) out.push({ frame, why });
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, look));
  return out.sort((a, b) => a.frame - b.frame);
}

function wrongWith(check: PictureCheck, stored: Probe['stored']): string | null {
  if (isDamaged(check)) return check.damage;
  if (!stored || (check.width === stored.width && check.height === stored.height)) return null;
  return `is ${check.width}×${check.height}, the others ${stored.width}×${stored.height}`;
}

/** Damages named in a message. */
const NAMED = 4;

/** What is wrong, by numbers as they are in the names of the files. */
function damageText(damage: readonly Damage[], firstNumber: number): string {
  const named = damage.slice(0, NAMED).map(({ frame, why }) => `${firstNumber + frame} ${why}`);
  const more = damage.length - named.length;
  return `${named.join('; ')}${more > 0 ? `; and ${more} more` : ''}`;
}

export interface LaidOut {
  probe: Probe;
  /** What is seen at another's place, or as black; frames of the plate. */
  damage: Damage[];
}

/**
 * Looks at every picture, and lays them out as they are shown: beside what was sent, which stays as it came.
 * @throws Problem "damaged-pictures" where something is wrong with them and it was not chosen what is seen there
 */
export async function layOut(dir: string, probe: Probe, firstNumber: number, signal?: AbortSignal): Promise<LaidOut> {
  const shown = path.join(dir, SHOWN);
  await rm(shown, { recursive: true, force: true });
  const damage = await damageOf(dir, probe, signal);
  if (signal?.aborted) throw new Problem('cancelled', 'Cancelled.');
  if (damage.length === 0) return { probe, damage };
  if (damage.length === probe.framesGuess) throw refuse('None of its pictures can be read: all are damaged.');
  const { filling } = probe;
  if (!filling)
    throw new Problem(
      'damaged-pictures',
      `${damage.length} of ${probe.framesGuess} pictures cannot be used: ${damageText(damage, firstNumber)}. Choose what is seen there, or delete it and send the pictures again.`,
      422,
    );
  const frames = await fill(dir, shown, probe, damage, filling);
  const leftOut = `${damage.length} pictures were left out, and those behind them have moved up: ${damageText(damage, firstNumber)}.`;
  const notes = filling === 'leave-out' ? [...probe.notes, leftOut] : probe.notes;
  return { probe: { ...probe, input: `${SHOWN}/${probe.input}`, framesGuess: frames, notes }, damage: filling === 'leave-out' ? [] : damage };
}

/** Links every picture that is shown into a folder of its own, under the frame on which it is; gives how many there are. */
async function fill(dir: string, shown: string, { input, framesGuess, stored }: Probe, damage: readonly Damage[], filling: Filling): Promise<number> {
  await mkdir(shown);
  const extension = path.extname(input);
  const wrong = new Set(damage.map((d) => d.frame));
  let held = 0;
  while (wrong.has(held)) held++;
  const black = filling === 'black' ? await blackPicture(dir, extension, stored) : null;
  let frames = 0;
  for (let frame = 0; frame < framesGuess; frame++) {
    if (!wrong.has(frame)) held = frame;
    else if (filling === 'leave-out') continue;
    const from = wrong.has(frame) && black ? black : path.join(dir, placed(held, extension));
    await link(from, path.join(shown, placed(frames++, extension)));
  }
  return frames;
}

/** A black picture among the others, of their size and kind. */
async function blackPicture(dir: string, extension: string, stored: Probe['stored']): Promise<string> {
  const file = path.join(dir, `black${extension}`);
  const { width, height } = stored ?? { width: 8, height: 8 };
  const { code, stderr } = await run('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `color=black:s=${width}x${height}`, '-frames:v', '1', file]);
  if (code !== 0) throw new Problem('ingest-failed', `A black picture could not be written. ${firstFault(stderr)}`, 500);
  return file;
}
