/** A shot that shows other shots one after the other, with a way from each to the next: it has no picture of its own. */
import { newDocument } from '../document/records.ts';
import type { Element, ShotDocument, ShownFootage } from '../document/schema.ts';
import { constantsOf, type SettingValue } from '../effects/settings.ts';
import { newElement } from '../elements/index.ts';
import { toCover } from '../image/picture.ts';
import { framesPerSecond, type Rate } from '../time/rate.ts';

/** Ways that need nothing else to be chosen. */
export const JOIN_WAYS = ['dissolve', 'wipe', 'circle', 'push', 'slide'] as const;
export type JoinWay = (typeof JOIN_WAYS)[number];
export const isJoinWay = (id: string): id is JoinWay => (JOIN_WAYS as readonly string[]).includes(id);

/** A shot as it is shown. */
export interface JoinedShot {
  id: string;
  name: string;
  plateId: string;
  frames: number;
  width: number;
  height: number;
  rate: Rate;
  /** Frames of its finished picture; null where that is its plate. */
  finished: number | null;
}

export interface Join {
  name: string;
  shots: readonly JoinedShot[];
  way: JoinWay;
  /** Frames on which two of them are seen. */
  takes: number;
  /** A subject of one of them that stays on top while others go past, by its place among the shots. */
  held: { shot: number; subject: string; name: string } | null;
}

/** Where each of them begins and how long it is, in frames of the whole, and how long that is. */
export function joinedTimes({ shots, takes }: Pick<Join, 'shots' | 'takes'>): { begins: number[]; lengths: number[]; frames: number } {
  const rate = framesPerSecond(shots[0].rate);
  const lengths = shots.map((s) => Math.max(1, Math.round(((s.finished ?? s.frames) * rate) / framesPerSecond(s.rate))));
  const begins = [0];
  for (const length of lengths.slice(0, -1)) begins.push((begins.at(-1) as number) + length - takes);
  return { begins, lengths, frames: (begins.at(-1) as number) + (lengths.at(-1) as number) };
}

/** The document, on a plate of the size and the rate of the first of them. @param newId gives ids of records */
export function joinedDocument(join: Join, newId: () => string): ShotDocument {
  const { name, shots, way, takes, held } = join;
  const [{ width, height, rate }] = shots;
  const { begins, frames } = joinedTimes(join);
  const document = newDocument(name, { width, height, frames, rate, firstNumber: 0 });
  const add = (kind: string, of: JoinedShot, more: Partial<Element>, settings: Record<string, SettingValue>): void => {
    const made = newElement(document, newId(), 'front', null, kind);
    const speed = (100 * framesPerSecond(of.rate)) / framesPerSecond(rate);
    document.lanes.push({ ...made, ...more, settings: { ...made.settings, ...constantsOf({ ...settings, speed }) } });
  };
  const shown = ({ id, plateId, finished, ...of }: JoinedShot): ShownFootage => ({
    ...{ id: plateId, width: of.width, height: of.height, frames: finished ?? of.frames, alpha: false },
    // What is done with it later shows as well.
    made: { shot: id, subject: null },
  });
  const [first, ...rest] = shots;
  add('footage', first, { name: first.name, footage: shown(first) }, {});
  for (const [i, shot] of rest.entries())
    add('way', shot, { name: `To ${shot.name}`.slice(0, 120), footage: shown(shot) }, { way, takes, begins: begins[i + 1] });
  if (held) {
    const of = shots[held.shot];
    // From where the way to it begins to where that to the next one ends: on top of both, and gone where only others are seen.
    const ways = [held.shot, held.shot + 1].flatMap((i) => (i > 0 && i < shots.length && takes > 0 ? [{ first: begins[i], last: begins[i] + takes - 1 }] : []));
    const footage = { id: of.plateId, width: of.width, height: of.height, frames: of.frames, alpha: true, made: { shot: of.id, subject: held.subject } };
    const scale = 100 * toCover(document.plate, of);
    add('footage', of, { name: `${held.name}, on top`.slice(0, 120), footage, lives: ways }, { offset: begins[held.shot], scale });
  }
  return document;
}
