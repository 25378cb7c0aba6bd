/**
 * Carrying from one anchor one way, frame after frame: what is known of each is kept, so that it goes on from the last that is
 * there. A subject that goes out of sight is looked for on every later frame until it is back.
 */
import { IDENTITY, inverseOf } from '../../math/homography.ts';
import { likelierThanBeside } from '../colour/colour-tables.ts';
import { enlarged } from '../cut/motion-evidence.ts';
import { type Motion, motionOf } from '../motion/layers.ts';
import { sizeOf } from '../picture/masks.ts';
import { type AnchorModel, anchorModel, movedZone, type Propagated, type PropagationOptions, propagateFrame } from '../propagate/propagate-frame.ts';
import { type Appearance, appearanceOf, bestMatch, type Match } from '../propagate/redetect.ts';
import type { Painted } from '../propagate/registration.ts';
import type { PropagationState, Seen, StateStore } from '../results/propagation-state.ts';
import type { PropagationSettings } from '../settings.ts';
import { agreementWith, halfMask, halfPainted, propagateSecond, type SecondEstimate, secondEstimateFrom } from '../uncertainty/ensemble.ts';
import { HIDDEN, oddsOf, SURE, stillAway, type Uncertainty, uncertaintyOf, VANISHED } from '../uncertainty/uncertainty.ts';
import type { FrameView, FrameViews } from './frame-views.ts';
import { paintedWhole, type Whole, wholeOf } from './mosaic.ts';

/** Share of what the subject had of late below which it counts as out of sight; and that where what is left looks like it. */
const HARDLY = 0.06;
const SLIVER = 0.012;
/** What is left is the subject's, however little it is, where its colours are so much likelier the subject's than those round it. */
const STANDS_OUT = 0.5;
/** What is left looks like the subject where the painted frame is believed as far as this. */
const LOOKS_LIKE_IT = 0.5;
/** What the subject had is forgotten by this much a frame, so that one that goes away into the distance is not called lost. */
const MEMORY = 0.99;
/** With so much of what it had of late a subject is in sight as a whole. */
const WHOLE = 0.95;
/** Share of its looks that must go together with a place: where it is expected, anywhere else, and where the artist says it is back. */
const EXPECTED = 0.45;
const ANYWHERE = 0.7;
const TOLD = 0.25;
/** How much better than the best place beside it, on the frame it was seen on, it must be. */
const BETTER = 0.1;
/** It is expected within so many pixels of where it was, and so many more for each frame since. */
const NEAR = 40;
const NEAR_A_FRAME = 12;
/** Where it is found again its edge may be this much farther from where it is expected, pixels. */
const WIDER = 6;
/** Frames ahead on which a subject that went out of sight is looked for before those on the way are done. */
const AHEAD = 60;
/** Doubt of a frame on which it is found again is at least this: somebody should look. */
const FOUND_AGAIN = 50;

/** A painted frame, cut, with what it teaches. */
export interface Anchor {
  view: FrameView;
  mask: Uint8Array;
  zone: Uint8Array | null;
  /** What it teaches the first and the second carry; made when something is carried from it. */
  model?: AnchorModel;
  secondModel?: AnchorModel;
  /** Its mask at the size of the second. */
  secondMask?: Uint8Array;
  /** It as it is laid onto others, with what it hides of the subject as far as that was seen on one painted before; made when it is asked for. */
  whole?: Whole;
}

/** What the frames of a shot are carried with. */
export interface PropagationContext {
  views: FrameViews;
  states: StateStore;
  carry: PropagationSettings;
  /** What is kept and dropped on a frame, at a size, by the fence and by what is painted, or by the fence alone; null where nothing is. */
  seeds(frame: number, size: { width: number; height: number }, painted: boolean): Promise<Uint8Array | null>;
  /** Where the edge was called soft on a frame beside where it was before. */
  zone(frame: number, size: { width: number; height: number }, before: Uint8Array | null): Uint8Array | null;
  /** Whether the artist says that the subject is out of sight on a frame. */
  hidden(frame: number): boolean;
  /** Whether anything is painted on a frame. */
  painted(frame: number): boolean;
}

/** The same motion, in coarse pixels, all over a picture of this size. */
function evenMotion({ width, height }: { width: number; height: number }, x: number, y: number): Motion {
  const flow = (u: number, v: number) => ({ width, height, data: Float32Array.from({ length: 2 * width * height }, (_, i) => (i % 2 === 0 ? u : v)) });
  return motionOf(flow(x, y), flow(-x, -y));
}

export class PropagationPass {
  private readonly work: PropagationContext;
  private readonly from: number;
  private readonly step: 1 | -1;
  private readonly anchor: () => Promise<Anchor>;
  /** The last frame of the shot on this side. */
  private readonly end: number;
  /** The last frame that was carried. */
  private now: { frame: number; state: PropagationState } | null = null;
  /** What the subject looked like on the frame it was seen on last, and how well that goes together with what is beside it there. */
  private known: { frame: number; looks: Appearance; beside: number } | null = null;
  /** The frame on which strokes have dropped something, as it is laid onto those after it. */
  private since: { frame: number; whole: Whole } | null = null;

  constructor(work: PropagationContext, from: number, step: 1 | -1, end: number, anchor: () => Promise<Anchor>) {
    this.work = work;
    this.from = from;
    this.step = step;
    this.end = end;
    this.anchor = anchor;
  }

  /** What is known of a frame on this side of the anchor, carried to it where it is not there yet. */
  async at(frame: number): Promise<PropagationState> {
    if (this.now?.frame === frame) return this.now.state;
    const kept = await this.work.states.get(this.from, frame);
    if (kept) return kept;
    let { now } = this;
    if (!now || (frame - now.frame) * this.step < 0) now = await this.lastBefore(frame);
    while (now.frame !== frame) {
      const next: number = now.frame + this.step;
      const state: PropagationState = (await this.work.states.get(this.from, next)) ?? (await this.carryOn(now, next));
      now = { frame: next, state };
      this.now = now;
    }
    return now.state;
  }

  /** The frame nearest before `frame` of which something is kept; the anchor where of none. */
  private async lastBefore(frame: number): Promise<{ frame: number; state: PropagationState }> {
    for (let f = frame - this.step; f !== this.from; f -= this.step) {
      const state = await this.work.states.get(this.from, f);
      if (state) return { frame: f, state };
    }
    const { mask, zone, model, secondModel, secondMask } = await this.model();
    const second = { mask: secondMask, centres: secondModel.windows.centres };
    const state = {
      mask,
      zone,
      centres: model.windows.centres,
      second,
      doubt: SURE,
      odds: null,
      usual: sizeOf(mask),
      lost: false,
      seen: null,
      dropped: null,
      back: IDENTITY,
      pace: null,
    };
    return { frame: this.from, state };
  }

  private async model(): Promise<Required<Anchor>> {
    const anchor = await this.anchor();
    const { view, mask } = anchor;
    anchor.whole ??= paintedWhole(view, mask);
    anchor.model ??= anchorModel(anchor.whole.frame, anchor.whole.mask);
    anchor.secondMask ??= halfMask(mask, view.prepared, view.half.fine);
    anchor.secondModel ??= anchorModel(anchor.whole.half.frame, anchor.whole.half.mask);
    return anchor as Required<Anchor>;
  }

  private async carryOn(now: { frame: number; state: PropagationState }, frame: number): Promise<PropagationState> {
    const state = await this.next(now, frame, this.work);
    if (state.lost && !now.state.lost && !this.work.hidden(frame)) return this.lookAhead(frame, state);
    await this.work.states.put(this.from, frame, state);
    return state;
  }

  /**
   * The subject went out of sight on a frame: where it is found again soon, it is carried back from there as far as it is to be
   * seen, since the frames on which only a part of it is back are hard to find it on. What is painted or said farther on has no
   * say in that: it does not decide these frames.
   */
  private async lookAhead(frame: number, state: PropagationState): Promise<PropagationState> {
    const { step } = this;
    const bare: PropagationContext = {
      ...this.work,
      seeds: (f, size) => this.work.seeds(f, size, false),
      zone: (_frame, _size, before) => before,
      hidden: () => false,
      painted: () => false,
    };
    const away = [{ frame, state }];
    let back: { frame: number; state: PropagationState } | null = null;
    for (let f = frame + step; (this.end - f) * step >= 0 && away.length < AHEAD && !back; f += step) {
      const next = await this.next(away[away.length - 1], f, bare);
      if (next.lost) away.push({ frame: f, state: next });
      else back = { frame: f, state: next };
    }
    if (back) {
      await this.carryBack(back, away, bare);
      away.push(back);
    }
    // From the first frame on which something is painted or said, that counts too.
    const told = away.findIndex((one, i) => i > 0 && (this.work.hidden(one.frame) || this.work.painted(one.frame)));
    for (const one of told < 0 ? away : away.slice(0, told)) await this.work.states.put(this.from, one.frame, one.state);
    return away[0].state;
  }

  /** Carries what was found again back over frames on which it was taken to be out of sight, until hardly anything of it is left. */
  private async carryBack(
    back: { frame: number; state: PropagationState },
    away: { frame: number; state: PropagationState }[],
    work: PropagationContext,
  ): Promise<void> {
    // It went the other way before it was lost, as far as that is known.
    const pace = back.state.pace && inverseOf(back.state.pace);
    let now: { frame: number; state: PropagationState } = { ...back, state: { ...back.state, pace } };
    for (const one of [...away].reverse()) {
      const [before, view] = await Promise.all([work.views.get(now.frame), work.views.get(one.frame)]);
      const carried = await this.carryTo(view, before, now.state, work.views.motion(before, view), work, {
        wide: now.state.zone !== null,
        pace: now.state.pace,
      });
      if (await this.isGone(carried, view, one.state.usual)) return;
      const half = halfMask(carried.mask, view.prepared, view.half.fine);
      const second = secondEstimateFrom(half, carried.centres, now.state.centres, now.state.second.centres);
      const zone = now.state.zone && movedZone(now.state.zone, carried, view.width, view.height);
      one.state = { ...back.state, mask: carried.mask, zone, centres: carried.centres, second, seen: one.state.seen, back: carried.back };
      now = { frame: one.frame, state: { ...one.state, pace: carried.pace ?? now.state.pace } };
    }
  }

  private async next({ frame: last, state }: { frame: number; state: PropagationState }, frame: number, work: PropagationContext): Promise<PropagationState> {
    const seen: Seen = state.seen ?? { frame: last, mask: state.mask, centres: state.centres, secondCentres: state.second.centres, back: state.back };
    if (work.hidden(frame)) return this.outOfSight(state, seen, HIDDEN);
    // Where the artist called it hidden up to here, that it is still not found is news.
    if (state.lost) {
      const { match, like } = await this.find(seen, frame, work, work.hidden(last));
      const back = match && (await this.foundAgain(state, seen, match, frame, work));
      return back ?? this.outOfSight(state, seen, work.hidden(last) ? VANISHED : stillAway(like));
    }
    const [before, view, { secondModel }] = await Promise.all([work.views.get(last), work.views.get(frame), this.model()]);
    const motion = work.views.motion(before, view);
    const carried = await this.carryTo(view, before, state, motion, work, { wide: state.zone !== null, pace: state.pace });
    const seeds = await work.seeds(frame, view.half.fine, true);
    const { painted, half } = await this.laid(state, work);
    const pace = state.pace && enlarged(state.pace, view.half.fine.width / view.width);
    const second = propagateSecond(
      state.second,
      { before: before.half, next: view.half, motion, model: secondModel, seeds, settings: work.carry },
      { painted: halfPainted(painted, half), pace },
    );
    const { area } = carried.signals;
    if (await this.isGone(carried, view, state.usual)) return this.outOfSight(state, seen, VANISHED);
    const usual = Math.max(area, MEMORY * state.usual);
    const agreement = agreementWith(second, view.half, carried.mask, view.prepared);
    const odds = oddsOf(carried.signals, agreement, state.odds);
    const doubt = uncertaintyOf(carried.signals, agreement, odds, Math.abs(frame - this.from));
    const zone = work.zone(frame, view, state.zone && movedZone(state.zone, carried, view.width, view.height));
    const told = this.secondAfter(second, carried, state, view);
    const found = { mask: carried.mask, zone, centres: carried.centres, second: told, doubt, odds, usual, lost: false, pace: carried.pace };
    // What was dropped here would come back with the painted frame.
    if (work.painted(frame)) return { ...found, odds: null, seen: null, dropped: { frame, mask: carried.mask }, back: IDENTITY };
    return { ...found, seen: area < WHOLE * usual ? seen : null, dropped: state.dropped, back: carried.back };
  }

  /** The second as it goes on: one that has lost what the first surely has would part from it for good, and begins anew where that is. */
  private secondAfter(second: SecondEstimate, { mask, centres, signals }: Propagated, was: PropagationState, { prepared, half }: FrameView): SecondEstimate {
    const share = half.fine.width / prepared.fine.width;
    if (signals.belief <= LOOKS_LIKE_IT || sizeOf(second.mask) >= HARDLY * share * share * signals.area) return second;
    return secondEstimateFrom(halfMask(mask, prepared, half.fine), centres, was.centres, was.second.centres);
  }

  /** The frame that is laid on those that follow: the painted one, or one since on which strokes have dropped something. */
  private async laid(
    { dropped, back }: Pick<PropagationState, 'dropped' | 'back'>,
    work: PropagationContext,
  ): Promise<{ painted: Painted; half: Whole['half'] }> {
    if (dropped && this.since?.frame !== dropped.frame)
      this.since = { frame: dropped.frame, whole: wholeOf(await work.views.get(dropped.frame), dropped.mask) };
    const { frame, half, mask } = dropped && this.since ? this.since.whole : (await this.model()).whole;
    return { painted: { frame, mask, back }, half };
  }

  private async carryTo(
    view: FrameView,
    before: FrameView,
    was: Pick<PropagationState, 'mask' | 'centres' | 'dropped' | 'back'>,
    motion: Motion,
    work: PropagationContext,
    look: PropagationOptions = {},
  ): Promise<Propagated> {
    const { carry } = work;
    const { model } = await this.model();
    const moved = { ...model, windows: { models: model.windows.models, centres: was.centres } };
    const { painted } = await this.laid(was, work);
    const band = look.farther ? carry.band + WIDER : carry.band;
    const seeds = await work.seeds(view.frame, view, true);
    const step = { before: before.prepared, mask: was.mask, next: view.prepared, motion, model: moved, seeds, settings: { ...carry, band } };
    return propagateFrame(step, { ...look, painted });
  }

  /** Whether hardly anything of the subject is left. */
  private async isGone({ mask, signals: { area, belief } }: Propagated, { prepared: { fine } }: FrameView, usual: number): Promise<boolean> {
    if (area > (belief > LOOKS_LIKE_IT ? SLIVER : HARDLY) * usual) return false;
    return area === 0 || likelierThanBeside(fine, mask, (await this.model()).model.table) < STANDS_OUT;
  }

  private outOfSight(state: PropagationState, seen: Seen, doubt: Uncertainty): PropagationState {
    const nothing = (mask: Uint8Array) => new Uint8Array(mask.length);
    const { zone, usual, dropped, back, pace } = state;
    return {
      mask: nothing(state.mask),
      zone: zone && nothing(zone),
      centres: seen.centres,
      second: { mask: nothing(state.second.mask), centres: seen.secondCentres },
      doubt,
      odds: null,
      usual,
      lost: true,
      seen,
      dropped,
      back,
      pace,
    };
  }

  /** The subject on a frame where its looks match; null where hardly anything of it is there. */
  private async foundAgain(state: PropagationState, seen: Seen, match: Match, frame: number, work: PropagationContext): Promise<PropagationState | null> {
    const [before, view] = await Promise.all([work.views.get(seen.frame), work.views.get(frame)]);
    const motion = evenMotion(view.light[0], match.x, match.y);
    const { factor } = view.prepared;
    const farther = Math.ceil(factor * Math.max(Math.abs(match.x), Math.abs(match.y))) + 1;
    const carried = await this.carryTo(view, before, { ...seen, dropped: state.dropped }, motion, work, { farther });
    const { area } = carried.signals;
    if (await this.isGone(carried, view, state.usual)) return null;
    const doubt: Uncertainty = { doubt: Math.max(FOUND_AGAIN, Math.round(100 * (1 - match.share))), reasons: ['found-again'], places: [] };
    const zone = work.zone(frame, view, null);
    const second = secondEstimateFrom(halfMask(carried.mask, view.prepared, view.half.fine), carried.centres, seen.centres, seen.secondCentres);
    return {
      mask: carried.mask,
      zone,
      centres: carried.centres,
      second,
      doubt,
      odds: null,
      usual: state.usual,
      lost: false,
      seen: area < WHOLE * state.usual ? seen : null,
      dropped: state.dropped,
      back: carried.back,
      pace: state.pace,
    };
  }

  /**
   * Where the subject's looks match on a frame, null where nowhere; and how like it the likeliest place is, as a share of what it takes.
   * @param told whether the artist says that it is back
   */
  private async find(seen: Seen, frame: number, work: PropagationContext, told: boolean): Promise<{ match: Match | null; like: number }> {
    const [{ looks, beside }, view] = await Promise.all([this.knownOf(seen, work), work.views.get(frame)]);
    const { coarse, factor } = view.prepared;
    const best = bestMatch(looks, coarse);
    const taken = (match: Match, least: number) => ({ match: match.share >= least ? match : null, like: match.share / least });
    if (told) return taken(best, TOLD);
    const least = beside + BETTER;
    const anywhere = taken(best, Math.max(least, ANYWHERE));
    if (anywhere.match) return anywhere;
    const near = (NEAR + NEAR_A_FRAME * Math.abs(frame - seen.frame)) / factor;
    const close = taken(
      bestMatch(looks, coarse, (x, y) => Math.hypot(x, y) <= near),
      Math.max(least, EXPECTED),
    );
    return { match: close.match, like: Math.max(anywhere.like, close.like) };
  }

  private async knownOf(seen: Seen, work: PropagationContext): Promise<{ looks: Appearance; beside: number }> {
    if (this.known?.frame === seen.frame) return this.known;
    const { prepared } = await work.views.get(seen.frame);
    const looks = appearanceOf(prepared, seen.mask);
    const size = Math.sqrt(looks.points.length / 2);
    this.known = { frame: seen.frame, looks, beside: bestMatch(looks, prepared.coarse, (x, y) => Math.hypot(x, y) > size).share };
    return this.known;
  }
}
