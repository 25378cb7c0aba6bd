/**
 * Follows an area from frame to frame. On each frame it is looked for where its motion would have brought it, a point at full size at
 * once, else coarse to fine; where it is not there, over the whole search area; then it is aligned with the pattern of a frame before,
 * so that errors do not add up.
 * The pattern is the one of the first frame for as long as that can be recognised. When it changes, a newer one is taken, from a
 * frame that was surely right, and the first is tried again on every frame. After it was lost it is looked for along the way it
 * went, ever wider, and taken up again where the pattern is found and no lookalike comes near it.
 */

import type { Region } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { applyTo, type Homography, inverseOf, jacobianAt, type MotionModel, multiply, translation } from '../math/homography.ts';
import { align, type Fit } from './align.ts';
import { type Area, cornersAt } from './area.ts';
import { homographyOfKeypoints, type Keypoints, keypointsOf } from './keypoints.ts';
import { errorOf, passingPatternOf, patternOf, texture } from './pattern.ts';
import type { Pyramid } from './pyramid.ts';
import { qualityOf, type Reason, TRUSTED, unslid } from './quality.ts';
import type { Pattern } from './samples.ts';
import { type Paired, searched } from './search.ts';

export interface TrackerOptions {
  model: MotionModel;
  /** Plate pixels round the expected place within which it is looked for. */
  search: number;
  /** Region: leave out what does not agree, and take motion models from the second level on. */
  region: boolean;
  /** Fewer samples and no tracking back. */
  draft: boolean;
}

export interface Found {
  /** From the area's own coordinates to the plate. */
  homography: Homography;
  quality: number;
  /** Why it is not trusted; null where it is. */
  reason: Reason | null;
  /** Of a region that is trusted: the weight of each of its cells, see Fit. */
  cells?: Float32Array;
}

interface Reference {
  patterns: Pattern[];
  /** Plate pixels of a unit where it was taken. */
  pixels: number;
}

/** Below this the area is looked for elsewhere as well. */
const SURE = 0.85;
/** Below this a newer pattern is wanted. */
const AGEING = 0.9;
/** A frame of this quality may give the newer pattern. */
const FRESH = 0.8;
/** What a pattern must come to after it was lost, and the quality it must have. */
const AGAIN = 0.85;
const REGAINED = 0.75;
/** And how unlike it may be then, of how unlike the most alike other place was. */
const OF_TWIN = 0.3;
/** Trusted frames before the pattern may be renewed: what was found again may be something else. */
const SETTLED = 10;
/** Samples a level, at most. */
const SAMPLES = { point: 529, region: 2500, draft: 900 };
/** Slope in grey levels a pixel below which a pattern holds nothing. */
const PLAIN = 0.3;
/** Below this it may hold no more than grain: so it is where it could not be followed from the start. */
const FAINT = 1.5;
const MOST_WIDER = 4;
/** What is so much less alike than it was is as alike as before. */
const USUAL = 0.02;
/** What is so much less alike may be something else, wherever it is. */
const CHANGED = 0.05;
/** A point goes on as it went where it is found so many pixels from where it is expected, at most. */
const ONWARD = 2;
/** Frames for which what is lost is looked for on each; then on every third, since two frames later is soon enough. */
const PATIENT = 3;
const EVERY = 3;
/** In between it is taken up again so many pixels from where it is expected, at most. */
const AT_ONCE = 4;
/** Below this a region may have jumped further, or otherwise, than looking for it moved alone would find. */
const JUMPED = 0.75;

export class Tracker {
  private readonly area: Area;
  private readonly options: TrackerOptions;
  private readonly samples: ReturnType<Area['samples']>[] = [];
  private readonly first: Reference;
  private newest: Reference;
  private homography: Homography;
  /** Where it was a frame before, if it was seen there. */
  private earlier: Homography | null = null;
  private before: Pyramid;
  /** Details of the region where it was last seen, once they were wanted. */
  private keypoints: Keypoints | null = null;
  /** Pixels squared by which the newest pattern may have slid since the first, see errorOf. */
  private drift = 0;
  private lost = 0;
  /** Why it is lost, as it was told when it was last looked for. */
  private reason: Reason = 'hidden';
  /** How alike the most alike other place was where it was last seen. */
  private twin = 0;
  /** What the pattern has come to on frames that were trusted. */
  private typical = 0.97;
  /** The best of that, slowly forgotten. */
  private peak = 0.97;
  private trusted = 0;
  /** What the pattern came to on the last few of them. */
  private readonly recent: number[] = [];
  /** Trusted frames since the start or since it was found again. */
  private since = 0;
  private readonly plain: boolean;
  private readonly faint: boolean;

  constructor(pyramid: Pyramid, area: Area, options: TrackerOptions) {
    this.area = area;
    this.options = options;
    const { region, draft } = options;
    const top = region ? clamp(Math.floor(Math.log2(area.least / 5)), 0, 4) : 2;
    const most = region ? (draft ? SAMPLES.draft : SAMPLES.region) : SAMPLES.point;
    for (let k = 0; k <= Math.min(top, pyramid.count - 1); k++) this.samples.push(area.samples(2 ** k, most, region ? 0 : 4 * 2 ** k));
    this.homography = area.homography;
    this.first = this.referenceAt(pyramid, area.homography);
    this.newest = this.first;
    this.before = pyramid;
    const held = texture(this.first.patterns[0], area.size);
    this.plain = held < PLAIN;
    this.faint = held < FAINT;
  }

  /** Goes on from another frame, where the area is at `place`. */
  resume(pyramid: Pyramid, homography: Homography): void {
    this.homography = homography;
    this.earlier = null;
    this.before = pyramid;
    // What has changed since is taken as it is here.
    const fit = align(this.first.patterns[0], pyramid, 0, homography, { model: 'move', rounds: 0, robust: this.options.region });
    if (merit(fit) < AGEING) this.newest = this.referenceAt(pyramid, homography);
  }

  /** The part of the next picture that {@link step} looks at. */
  reach(): Region {
    const wide = this.options.search * this.wider() * 1.3 + 24;
    const at = this.expected();
    const out = { left: Number.POSITIVE_INFINITY, top: Number.POSITIVE_INFINITY, right: Number.NEGATIVE_INFINITY, bottom: Number.NEGATIVE_INFINITY };
    for (const homography of [at, this.homography]) {
      const corners = cornersAt(this.area, homography, 'box');
      for (let i = 0; i < corners.length; i += 2) {
        out.left = Math.min(out.left, corners[i] - wide);
        out.right = Math.max(out.right, corners[i] + wide);
        out.top = Math.min(out.top, corners[i + 1] - wide);
        out.bottom = Math.max(out.bottom, corners[i + 1] + wide);
      }
    }
    return out;
  }

  /** Where the area is on the next frame. */
  step(pyramid: Pyramid): Found {
    const { region, draft } = this.options;
    // Where it is expected beyond the picture nothing can be found at once.
    const due = this.lost % EVERY === 0 || (this.lost <= PATIENT && this.inSight(pyramid));
    const onward = this.onward(pyramid);
    // A lost point is only asked for where it is expected on frames on which it is not looked for.
    const direct = onward ?? (region || due ? null : this.direct(pyramid));
    let fit = direct ?? this.quick(pyramid);
    let certain = 1;
    const looks = !this.hopeless() && (this.lost > 0 ? due : this.strange(fit));
    if (looks) ({ fit, certain } = this.elsewhere(pyramid, fit));
    if (!region && !direct) fit = this.shaped(pyramid, fit);
    if (this.newest !== this.first) fit = this.byFirst(pyramid, fit);
    const sane = this.sane(fit.homography);
    const followed = this.lost === 0;
    // Where it goes on as it went tracking back has never said anything else, but a newer pattern must be of the same thing.
    const back = followed && sane && !draft && !(onward && merit(fit) >= AGEING);
    const returned = back ? this.returned(pyramid, fit) : 0;
    const last = this.before;
    this.before = pyramid;
    let quality = sane ? certain * qualityOf({ ...fit, returned, typical: this.typical }) : 0;
    if (this.plain) quality = Math.min(quality, 0.3);
    if (!followed && !(quality > REGAINED && this.isAgain(fit) && (looks || away(fit.homography, this.expected()) < AT_ONCE))) quality = Math.min(quality, 0.4);
    if (quality < TRUSTED) {
      if (followed) this.twin = this.mostAlike(last);
      this.lost++;
      if (followed || looks || this.hopeless()) this.reason = this.reasonFor(pyramid, fit);
      return { homography: quality > 0.25 && followed ? fit.homography : this.expected(), quality: Math.min(quality, TRUSTED - 0.01), reason: this.reason };
    }
    const own = errorOf(this.newest.patterns[0], fit.score, this.area.size);
    // What covers a pattern does so fast; what changes it, slowly.
    const gradual = merit(fit) > Math.max(0, ...this.recent) - 0.05;
    this.recent.push(merit(fit));
    if (this.recent.length > SETTLED) this.recent.shift();
    this.earlier = followed ? this.homography : null;
    this.homography = fit.homography;
    this.peak = Math.max(this.typical, this.peak * 0.998);
    this.since = followed ? this.since + 1 : 0;
    this.lost = 0;
    // Falls fast, rises slowly: what was seen once may be seen again.
    this.trusted++;
    this.typical += (merit(fit) - this.typical) * Math.max(merit(fit) < this.typical ? 0.3 : 0.1, 1 / this.trusted);
    if (merit(fit) < AGEING && gradual && this.since >= SETTLED && quality > FRESH && returned < 0.5) {
      this.newest = this.referenceAt(pyramid, fit.homography);
      this.drift += own * own;
    }
    // It may have slid since it was first seen, the first pattern along its own edges, a newer one also where it was taken: it is followed on,
    // but told for what it is.
    const told = quality * unslid(Math.sqrt(this.drift + own * own));
    const slid = this.newest === this.first ? 'plain' : 'changed';
    return { homography: fit.homography, quality: told, reason: told < TRUSTED ? slid : null, cells: fit.cells };
  }

  private referenceAt(pyramid: Pyramid, homography: Homography): Reference {
    return { patterns: this.samples.map((s, k) => patternOf(pyramid, k, s, homography)), pixels: unitOf(homography) };
  }

  /** There is nothing in the pattern to look for. */
  private hopeless(): boolean {
    return this.plain || (this.faint && this.trusted === 0 && this.lost > 0);
  }

  private wider(): number {
    return Math.min(MOST_WIDER, 1 + 0.4 * this.lost);
  }

  /** Where its motion would have brought it. */
  private expected(): Homography {
    if (!this.earlier) return this.homography;
    const [x0, y0] = applyTo(this.earlier, 0, 0);
    const [x1, y1] = applyTo(this.homography, 0, 0);
    const frames = Math.min(12, this.lost + 1);
    return multiply(translation((x1 - x0) * frames, (y1 - y0) * frames), this.homography);
  }

  /**
   * The newest pattern of a level, none coarser than `top`, and the level of the picture it is compared with: what has grown since is
   * looked at in a smaller picture, what has shrunk by a coarser pattern.
   */
  private paired(pyramid: Pyramid, level: number, top = this.newest.patterns.length - 1): Paired {
    const grown = Math.round(Math.log2(unitOf(this.homography) / this.newest.pixels));
    return {
      pattern: this.newest.patterns[Math.min(top, level + Math.max(0, -grown))],
      at: Math.min(pyramid.count - 1, level + Math.max(0, grown)),
    };
  }

  /** A point that goes on as it went, and is as alike as it was: nothing coarser is asked, nor where else it may be. Null where it does not. */
  private onward(pyramid: Pyramid): Fit | null {
    if (this.options.region || !this.earlier || this.lost > 0) return null;
    const fit = this.direct(pyramid);
    return merit(fit) > this.asBefore(SURE) && away(fit.homography, this.expected()) < ONWARD && this.sane(fit.homography) ? fit : null;
  }

  /** A point at full size at once, where it is expected. */
  private direct(pyramid: Pyramid): Fit {
    const { pattern, at } = this.paired(pyramid, 0);
    return align(pattern, pyramid, at, this.expected(), { model: shapeOf(this.options.model), rounds: 12 });
  }

  /** Whether what was found may be something else: it is less alike than it was, and that by less where it is not near where it should be. */
  private strange(fit: Fit): boolean {
    const off = Math.min(away(fit.homography, this.expected()), away(fit.homography, this.homography));
    return merit(fit) < (off < this.options.search / 2 ? Math.max(SURE, this.typical - CHANGED) : this.asBefore(SURE));
  }

  /** What a fit comes to that is about as alike as it was before, and `least` at any rate. */
  private asBefore(least: number): number {
    return Math.max(least, this.typical - USUAL);
  }

  /** The best of what lies where it is expected and where it was. */
  private quick(pyramid: Pyramid): Fit {
    const top = this.newest.patterns.length - 1;
    const starts = [this.expected()];
    if (this.earlier && this.lost === 0 && this.options.region) {
      const back = inverseOf(this.earlier);
      // The whole motion once more: what grows goes on growing.
      if (back) starts.push(multiply(multiply(this.homography, back), this.homography));
    }
    if (this.earlier) starts.push(this.homography);
    let best: Fit | null = null;
    for (const start of starts) {
      const fit = this.refined(pyramid, start, top);
      if (!best || merit(fit) > merit(best)) best = fit;
      if (merit(best) > this.asBefore(0.95)) break;
    }
    return best as Fit;
  }

  /**
   * The best of `near` and of what is found over the whole search area, and how certain that is the same thing: what lies far from
   * where it was expected has to be clearly better than anything else.
   */
  private elsewhere(pyramid: Pyramid, near: Fit): { fit: Fit; certain: number } {
    const wide = this.options.search * this.wider();
    const expected = this.expected();
    const middles = this.earlier && away(expected, this.homography) > wide / 4 ? [expected, this.homography] : [expected];
    const fits = [near];
    for (const middle of middles) fits.push(...this.allRound(pyramid, middle, wide));
    const jump = this.options.region && near.score < JUMPED ? this.byDetails(pyramid, expected, wide) : null;
    if (jump) fits.push(this.refined(pyramid, jump, Math.min(1, this.newest.patterns.length - 1)));
    const off = (f: Fit) => Math.min(...middles.map((m) => away(f.homography, m))) / wide;
    const worth = (f: Fit) => merit(f) - 0.1 * Math.min(1, off(f)) ** 2;
    const fit = fits.reduce((a, b) => (worth(b) > worth(a) + 0.01 ? b : a));
    // How many times as unlike the next best is.
    const ahead = (1 - bestBeside(fits, fit.homography)) / (1.002 - Math.min(1, merit(fit)));
    const far = Math.min(1, Math.max(0, off(fit) - 0.15) * 3);
    return { fit, certain: 1 - far * (1 - clamp((ahead - 1.2) / 1.8, 0, 1)) };
  }

  /** How alike the most alike other place is on the frame on which it was last seen: what is found later must be more so. */
  private mostAlike(pyramid: Pyramid): number {
    return bestBeside(this.allRound(pyramid, this.homography, this.options.search * MOST_WIDER), this.homography);
  }

  /** The best of what lies within `wide` pixels of a place. */
  private allRound(pyramid: Pyramid, middle: Homography, wide: number): Fit[] {
    const top = this.newest.patterns.length - 1;
    return searched(pyramid, middle, wide, top, (level) => this.paired(pyramid, level)).map((homography) =>
      this.refined(pyramid, homography, Math.min(1, top)),
    );
  }

  /** Whether what was found after it was lost is the same thing (after the ratio test of D. Lowe, IJCV 2004). */
  private isAgain(fit: Fit): boolean {
    return merit(fit) > Math.max(AGAIN, 1 - 0.035 - 2.5 * (1 - this.peak)) && 1 - merit(fit) < OF_TWIN * (1 - this.twin);
  }

  /** Where the details of a region that were last seen have gone, as far as most of them agree; null where they do not. */
  private byDetails(pyramid: Pyramid, expected: Homography, wide: number): Homography | null {
    // The frame before is the last one on which it was surely seen, until it is lost.
    if (this.lost === 0 || !this.keypoints) this.keypoints = keypointsOf(this.before, this.area, this.homography);
    return homographyOfKeypoints(this.keypoints, pyramid, this.area, expected, wide);
  }

  /** Coarse to fine from `start`. */
  private refined(pyramid: Pyramid, start: Homography, top: number): Fit {
    const { region, model, draft } = this.options;
    let fit: Fit | null = null;
    let homography = start;
    for (let k = top; k >= 0; k--) {
      const { pattern, at } = this.paired(pyramid, k, top);
      const coarse = k === top && k > 1 ? 'move' : k >= 2 && model !== 'move' ? 'similarity' : model;
      fit = align(pattern, pyramid, at, homography, {
        model: region ? coarse : 'move',
        rounds: region ? (k === 0 ? (draft ? 6 : 12) : 15) : 10,
        robust: region,
        gain: fit && fit.score > 0.5 ? fit.gain : undefined,
        offset: fit?.offset,
      });
      if (fit.seen > 0) homography = fit.homography;
    }
    // What ran away from where it was looked for found something else.
    const strayed = away(homography, start) > this.options.search * this.wider() * 1.3;
    return strayed ? { ...(fit as Fit), score: 0 } : (fit as Fit);
  }

  /** The same by the first pattern where that is recognised there, which then is taken again if it is alike enough. */
  private byFirst(pyramid: Pyramid, fit: Fit): Fit {
    const { model, region } = this.options;
    const back = align(this.first.patterns[0], pyramid, 0, fit.homography, { model: region ? model : shapeOf(model), rounds: 12, robust: region });
    if (!(merit(back) > AGAIN && away(fit.homography, back.homography) < 4)) return fit;
    if (merit(back) > AGEING) {
      this.newest = this.first;
      this.drift = 0;
    }
    return back;
  }

  /** A point's own turn and scale, where that makes it more alike. */
  private shaped(pyramid: Pyramid, fit: Fit): Fit {
    const { pattern, at } = this.paired(pyramid, 0);
    const other = align(pattern, pyramid, at, fit.homography, { model: shapeOf(this.options.model), rounds: 12, gain: fit.gain, offset: fit.offset });
    return merit(other) >= merit(fit) && away(other.homography, fit.homography) < 3 && this.sane(other.homography) ? other : fit;
  }

  /** Pixels between where it was and where tracking back from `fit` ends. */
  private returned(pyramid: Pyramid, fit: Fit): number {
    const { region, model } = this.options;
    const few = region ? Math.min(1, this.samples.length - 1) : 0;
    let homography: Homography = multiply(translation(1.5, -1), this.homography);
    for (let k = Math.max(few, 1); k >= few; k--) {
      const samples = this.samples[Math.min(k, this.samples.length - 1)];
      const pattern = passingPatternOf(pyramid, Math.min(k, pyramid.count - 1), samples, fit.homography);
      if (pattern.u.length === 0) return 0;
      const back = align(pattern, this.before, Math.min(k, this.before.count - 1), homography, {
        model: region ? model : 'move',
        rounds: 10,
        robust: region,
      });
      homography = back.homography;
    }
    const [a, b] = [cornersAt(this.area, homography, 'box'), cornersAt(this.area, this.homography, 'box')];
    let sum = 0;
    for (let i = 0; i < a.length; i += 2) sum += (a[i] - b[i]) ** 2 + (a[i + 1] - b[i + 1]) ** 2;
    return Math.sqrt(sum / (a.length / 2));
  }

  /** Nothing turns inside out, and nothing grows or shrinks to another thing within one frame. */
  private sane(homography: Homography): boolean {
    const [xx, xy, yx, yy] = jacobianAt(homography, 0, 0);
    const det = xx * yy - xy * yx;
    const was = unitOf(this.homography);
    const now = Math.sqrt(Math.max(0, det));
    const [x, y] = applyTo(homography, 0, 0);
    return Number.isFinite(x + y) && now > was / 2 && now < was * 2 && now > 0.5 && xx * xx + yx * yx < 16 * det && xy * xy + yy * yy < 16 * det;
  }

  /** Whether it is expected within the picture. */
  private inSight({ left, top, sizes: [{ width, height }] }: Pyramid): boolean {
    const [x, y] = applyTo(this.expected(), 0, 0);
    return x >= left && y >= top && x <= left + width && y <= top + height;
  }

  private reasonFor(pyramid: Pyramid, fit: Fit): Reason {
    if (this.hopeless()) return 'plain';
    if (!this.inSight(pyramid) || fit.seen < 0.5) return 'left';
    return this.lost === 1 && (this.recent.at(-1) ?? 1) < AGEING ? 'changed' : 'hidden';
  }
}

/** Plate pixels of a unit of the area. */
function unitOf(homography: Homography): number {
  const [xx, xy, yx, yy] = jacobianAt(homography, 0, 0);
  return Math.sqrt(Math.max(1e-12, Math.abs(xx * yy - xy * yx)));
}

/** Pixels between the middles of two places. */
function away(a: Homography, b: Homography): number {
  const [x0, y0] = applyTo(a, 0, 0);
  const [x1, y1] = applyTo(b, 0, 0);
  return Math.hypot(x1 - x0, y1 - y0);
}

/** How alike the best of those is that do not lie at a place. */
const bestBeside = (fits: readonly Fit[], homography: Homography): number =>
  Math.max(0, ...fits.filter((fit) => away(fit.homography, homography) > 4).map(merit));

/** A point never takes more than affine changes of its pattern. */
const shapeOf = (model: MotionModel): MotionModel => (model === 'perspective' ? 'affine' : model);

/** One number for how good a fit is. */
const merit = ({ score, agreeing, seen }: Fit): number => score * Math.min(1, agreeing / 0.5) * Math.min(1, seen / 0.6);
