/** What starts are laid out with: items whose keys are told as shares of the shot. */
import { closedShapes, placedPathsOf, placesOf } from '../document/follow.ts';
import { findPart } from '../document/parts.ts';
import type { Element, ElementEffect, Lane, LaneEffect, LaneItem, Setting, ShotDocument, ShownFootage } from '../document/schema.ts';
import { newElementEffect, newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { regionCorners } from '../elements/pinned.ts';
import { newVariant, VARIANTS } from '../elements/variants.ts';
import { toCover } from '../image/picture.ts';
import type { Aspect } from '../math/motion.ts';
import type { Ease } from '../time/ease.ts';
import type { FrameRange } from '../time/ranges.ts';

/** What the artist is asked for. */
export interface Asked {
  /** The subject that it is about. */
  subject: string | null;
  footage: ShownFootage | null;
  words: string;
  /** A track, a Spline or an element that it goes with; null: it stands still. */
  leader: string | null;
}

type Value = number | string | number[];
/** A value, or keys: each at a share of the shot, [0,1], with its value and how it goes on from there. */
type Told = Value | { keys: readonly (readonly [share: number, value: number, ease?: Ease])[] };

type More<T> = Partial<Omit<T, 'settings' | 'mix'>> & { mix?: Told };

export class Kit {
  readonly width: number;
  readonly height: number;
  readonly asked: Asked;
  private readonly document: ShotDocument;
  private readonly newId: () => string;
  constructor(document: ShotDocument, asked: Asked, newId: () => string) {
    this.document = document;
    this.asked = asked;
    this.newId = newId;
    this.width = document.plate.width;
    this.height = document.plate.height;
  }

  /** The frame at a share of the shot. */
  frame = (share: number): number => Math.round(share * (this.document.plate.frames - 1));
  range = (first: number, last: number): FrameRange => ({ first: this.frame(first), last: Math.max(this.frame(first), this.frame(last)) });

  private told(value: Told): Setting {
    if (typeof value !== 'object' || Array.isArray(value)) return { constant: value };
    // Of keys that fall on one frame of a short shot the last one stands.
    const byFrame = new Map(value.keys.map(([share, v, ease = 'linear']) => [this.frame(share), { frame: this.frame(share), value: v, ease }]));
    return { keys: [...byFrame.values()] };
  }

  private with<T extends LaneItem | ElementEffect>(record: T, settings: Record<string, Told>, { mix, ...more }: More<T>): T {
    const own = Object.fromEntries(Object.entries(settings).map(([key, value]) => [key, this.told(value)]));
    return { ...record, ...more, ...(mix === undefined ? {} : { mix: this.told(mix) }), settings: { ...record.settings, ...own } };
  }

  /** Of a lane that is relative to a subject: the one that was asked for. */
  private subjectOf = (lane: Lane): string | null => (lane === 'front' || lane === 'backdrop' ? null : this.asked.subject);

  effect = (effect: string, lane: Lane, settings: Record<string, Told> = {}, more: More<LaneEffect> = {}): LaneEffect =>
    this.with(newLaneEffect(this.newId(), lane, this.subjectOf(lane), effect, this.document.plate), settings, more);

  element = (kind: string, lane: Lane, settings: Record<string, Told> = {}, more: More<Element> = {}): Element =>
    this.with(newElement(this.document, this.newId(), lane, this.subjectOf(lane), kind), settings, more);

  variant = (id: string, lane: Lane, settings: Record<string, Told> = {}, more: More<Element> = {}): Element => {
    const variant = VARIANTS.find((v) => v.id === id);
    if (!variant) throw new RangeError(`There is no variant "${id}".`);
    return this.with(newVariant(this.document, this.newId, lane, this.subjectOf(lane), variant), settings, more);
  };

  /** An effect of an element. */
  own = (effect: string, settings: Record<string, Told> = {}): ElementEffect =>
    this.with(newElementEffect(this.newId(), effect, this.document.plate), settings, {});

  /** Follows what was asked for, where that was anything. */
  followed(takes: Aspect[] = ['position', 'turn', 'scale']): Pick<LaneItem, 'follow'> {
    const { leader } = this.asked;
    return { follow: leader ? { track: leader, frame: this.frameTold(), takes } : null };
  }

  /** The frame on which the place of what is followed is told. */
  private frameTold(): number {
    const track = this.document.tracks.find((t) => t.id === this.asked.leader);
    return track ? (placesOf(track)[0]?.frame ?? 0) : 0;
  }

  /** Four corners of what is followed, from the left top one clockwise, or of the curve of the subject; null where nothing has any. */
  corners(): number[] | null {
    const { leader, subject } = this.asked;
    const frame = this.frameTold();
    const track = this.document.tracks.find((t) => t.id === leader);
    if (track?.kind === 'region') return regionCorners(track, frame);
    const parts = this.document.cast.find((s) => s.id === subject)?.parts ?? [];
    const curve = findPart(this.document, leader) ?? (track ? undefined : parts.find((p) => p.type === 'spline'));
    const shapes = curve ? closedShapes(placedPathsOf(this.document, curve), frame) : [];
    const [xs, ys] = [shapes.flat().map((v) => v.x), shapes.flat().map((v) => v.y)];
    if (xs.length === 0) return null;
    const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    return [left, top, right, top, right, bottom, left, bottom];
  }

  /** Where that is and how large, plate pixels; the middle of the plate where nothing says. */
  box(): { x: number; y: number; width: number; height: number } {
    const at = this.corners();
    if (!at) return { x: this.width / 2, y: this.height / 2, width: this.height * 0.3, height: this.height * 0.3 };
    const [xs, ys] = [0, 1].map((k) => at.filter((_, i) => i % 2 === k));
    const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    return { x: (left + right) / 2, y: (top + bottom) / 2, width: Math.max(1, right - left), height: Math.max(1, bottom - top) };
  }

  /** The settings that make footage cover the plate. */
  covering(): Record<string, Told> {
    const { footage } = this.asked;
    return footage ? { scale: Math.ceil(1000 * toCover(this, footage)) / 10 } : {};
  }
}
