/** A whole alignment of a pattern with a picture, round after round; core/track/align.ts tells how. */
import { trackLight, trackLook, trackResiduals, trackSums } from './track.as.ts';

@inline
function f64At(p: usize, i: i32): f64 {
  return load<f64>(p + ((i as usize) << 3));
}

@inline
function put(p: usize, i: i32, value: f64): void {
  store<f64>(p + ((i as usize) << 3), value);
}

@inline
function four(p: usize): f64 {
  return (load<f32>(p) as f64) + (load<f32>(p, 4) as f64) + (load<f32>(p, 8) as f64) + (load<f32>(p, 12) as f64);
}

/** Solves a symmetric, positive definite system, as core/math/solve.ts does. */
function solved(a: usize, b: usize, n: i32): bool {
  for (let j = 0; j < n; j++) {
    let d = f64At(a, j * n + j);
    for (let k = 0; k < j; k++) d -= f64At(a, j * n + k) * f64At(a, j * n + k);
    const own = f64At(a, j * n + j);
    if (!(d > 1e-12 * (own > 1 ? own : 1))) return false;
    const root = sqrt(d);
    put(a, j * n + j, root);
    for (let i = j + 1; i < n; i++) {
      let s = f64At(a, i * n + j);
      for (let k = 0; k < j; k++) s -= f64At(a, i * n + k) * f64At(a, j * n + k);
      put(a, i * n + j, s / root);
    }
  }
  for (let i = 0; i < n; i++) {
    let s = f64At(b, i);
    for (let k = 0; k < i; k++) s -= f64At(a, i * n + k) * f64At(b, k);
    put(b, i, s / f64At(a, i * n + i));
  }
  for (let i = n - 1; i >= 0; i--) {
    let s = f64At(b, i);
    for (let k = i + 1; k < n; k++) s -= f64At(a, k * n + i) * f64At(b, k);
    put(b, i, s / f64At(a, i * n + i));
  }
  return true;
}

/** Makes `place` the place before the small motion of these parameters, its last number 1; not where that is none. */
function moveBack(place: usize, p: usize, parameters: i32): bool {
  const affine = parameters >= 6;
  const turned = parameters >= 4;
  const a: f64 = 1 + (turned ? f64At(p, 2) : 0);
  const b: f64 = affine ? f64At(p, 3) : turned ? -f64At(p, 3) : 0;
  const c = f64At(p, 0);
  const d: f64 = affine ? f64At(p, 4) : turned ? f64At(p, 3) : 0;
  const e: f64 = 1 + (affine ? f64At(p, 5) : turned ? f64At(p, 2) : 0);
  const f = f64At(p, 1);
  const g: f64 = parameters === 8 ? f64At(p, 6) : 0;
  const h: f64 = parameters === 8 ? f64At(p, 7) : 0;
  const i00 = e - f * h;
  const i10 = f * g - d;
  const i20 = d * h - e * g;
  const det = a * i00 + b * i10 + c * i20;
  if (!(abs(det) > 1e-300)) return false;
  const i01 = (c * h - b) / det;
  const i02 = (b * f - c * e) / det;
  const i11 = (a - c * g) / det;
  const i12 = (c * d - a * f) / det;
  const i21 = (b * g - a * h) / det;
  const i22 = (a * e - b * d) / det;
  const last = f64At(place, 6) * i02 + f64At(place, 7) * i12 + f64At(place, 8) * i22;
  if (!(last > 1e-6) || !isFinite(last)) return false;
  for (let r = 0; r < 9; r += 3) {
    const x = f64At(place, r);
    const y = f64At(place, r + 1);
    const z = f64At(place, r + 2);
    put(place, r, (x * (i00 / det) + y * (i10 / det) + z * (i20 / det)) / last);
    put(place, r + 1, (x * i01 + y * i11 + z * i21) / last);
    put(place, r + 2, (x * i02 + y * i12 + z * i22) / last);
  }
  return true;
}

/** Planes of the samples behind those of u and v, as core/track/aligner.ts has them. */
const WEIGHT = 2;
const VALUE = 3;
const SLOPE_U = 4;
const SLOPE_V = 5;
const SEEN = 6;
const RESIDUAL = 7;
const COUNTED = 8;

/**
 * Looks at the picture at `image` (`width` by `height`) where `place` (nine doubles, to the plate) puts the samples; (`offX`, `offY`) is
 * what lies at the middle of its first pixel, in its own pixels, of which `scale` make one of the plate. `motion` holds nine floats.
 */
function lookAt(
  planes: usize, count: i32, place: usize, image: usize, width: i32, height: i32, offX: f64, offY: f64, scale: f64, motion: usize,
): i32 {
  const bytes = (count as usize) << 2;
  // Told from the pixel in its middle, so that floats are fine enough.
  const w = f64At(place, 8);
  const baseX = max(0, min(width - 1, ((f64At(place, 2) / w) * scale - offX) as i32));
  const baseY = max(0, min(height - 1, ((f64At(place, 5) / w) * scale - offY) as i32));
  const fromX = offX + (baseX as f64);
  const fromY = offY + (baseY as f64);
  for (let c = 0; c < 3; c++) {
    const z = f64At(place, 6 + c);
    store<f32>(motion + ((c as usize) << 2), (f64At(place, c) * scale - fromX * z) as f32);
    store<f32>(motion + ((c as usize) << 2), (f64At(place, 3 + c) * scale - fromY * z) as f32, 12);
    store<f32>(motion + ((c as usize) << 2), z as f32, 24);
  }
  return trackLook(
    planes,
    planes + bytes,
    count,
    motion,
    image + (((baseY * width + baseX) as usize) << 2),
    width,
    -baseX as f32,
    -baseY as f32,
    (width - 1 - baseX) as f32,
    (height - 1 - baseY) as f32,
    planes + SEEN * bytes,
  );
}

/** Weights of the samples that are seen. */
function countSeen(planes: usize, count: i32): void {
  const bytes = (count as usize) << 2;
  for (let at: usize = 0; at < bytes; at += 16) {
    const seen = v128.load(planes + SEEN * bytes + at);
    v128.store(planes + COUNTED * bytes + at, v128.and(v128.load(planes + WEIGHT * bytes + at), f32x4.eq(seen, seen)));
  }
}

/**
 * The sums of a step of two or four parameters where all samples are seen and count by their own weights, see trackSums: what they would
 * be of the residuals that (`seen` - `offset`) / `gain` leaves.
 */
function stepSums(planes: usize, count: i32, gain: f32, offset: f32, turned: bool, right: usize): void {
  const bytes = (count as usize) << 2;
  const by = f32x4.splat(1 / gain);
  const off = f32x4.splat(offset);
  let alongU = f32x4.splat(0);
  let alongV = f32x4.splat(0);
  let grown = f32x4.splat(0);
  let turn = f32x4.splat(0);
  let values = f32x4.splat(0);
  let all = f32x4.splat(0);
  for (let p = planes; p < planes + bytes; p += 16) {
    const value = v128.load(p + VALUE * bytes);
    const seen = v128.load(p + SEEN * bytes);
    const residual = f32x4.sub(f32x4.mul(f32x4.sub(seen, off), by), value);
    // What fills up the last four is not seen.
    const wr = v128.and(f32x4.mul(residual, v128.load(p + WEIGHT * bytes)), f32x4.eq(seen, seen));
    const s = f32x4.mul(v128.load(p + SLOPE_U * bytes), wr);
    const t = f32x4.mul(v128.load(p + SLOPE_V * bytes), wr);
    alongU = f32x4.add(alongU, s);
    alongV = f32x4.add(alongV, t);
    if (turned) {
      const there = f32x4.eq(seen, seen);
      const u = v128.and(v128.load(p), there);
      const v = v128.and(v128.load(p + bytes), there);
      grown = f32x4.add(grown, f32x4.add(f32x4.mul(s, u), f32x4.mul(t, v)));
      turn = f32x4.add(turn, f32x4.sub(f32x4.mul(t, u), f32x4.mul(s, v)));
    }
    values = f32x4.add(values, f32x4.mul(value, wr));
    all = f32x4.add(all, wr);
  }
  v128.store(right, alongU);
  v128.store(right + 16, alongV);
  if (turned) {
    v128.store(right + 32, grown);
    v128.store(right + 48, turn);
    right += 32;
  }
  v128.store(right + 32, values);
  v128.store(right + 48, all);
}

/**
 * Aligns all that is seen of `samples` samples (`count` with what fills up to a multiple of four; their planes as core/track/aligner.ts
 * has them) with the picture, see {@link lookAt}, by so many `parameters`, for so many `rounds` or until a step moves it by less than
 * `small`. `state` holds doubles: the place (nine), gain (0 where not known) and offset, all of which are set; after them go the score,
 * whether there is one, and whether `known` was set. `known` holds the products of the changes of all samples where `isKnown` is not 0, and takes them where they are worked
 * out. `scratch` holds 2016 bytes, and behind them that of trackSums. Returns how many samples are seen.
 */
export function trackAlign(
  planes: usize, count: i32, samples: i32, image: usize, width: i32, height: i32, offX: f64, offY: f64, scale: f64,
  parameters: i32, rounds: i32, small: f64, state: usize, known: usize, isKnown: i32, scratch: usize,
): i32 {
  const size = parameters + 2;
  const bytes = (count as usize) << 2;
  const motion = scratch;
  const sums = scratch + 48;
  const right = scratch + 96;
  const normal = scratch + 256;
  const step = scratch + 1136;
  const matrix = scratch + 1216;
  const rest = scratch + 2016;
  const value = planes + VALUE * bytes;
  const middle = load<f32>(value);
  let counted = planes + WEIGHT * bytes;
  let inside = lookAt(planes, count, state, image, width, height, offX, offY, scale, motion);
  put(state, 12, 0);
  put(state, 13, 0);
  for (let round = 0; ; round++) {
    if (inside < size + 1 || (inside as f64) < 0.1 * (samples as f64)) return inside;
    if (round === 0 && !(f64At(state, 9) > 0)) {
      trackLight(planes + SEEN * bytes, value, planes + WEIGHT * bytes, count, middle, sums);
      const score = lightFrom(sums, middle, state + 72);
      // A picture that is unlike the pattern says nothing about the light.
      if (!(score > 0.3)) {
        put(state, 9, 1);
        put(state, 10, 0);
      } else put(state, 9, min<f64>(4, max<f64>(0.25, f64At(state, 9))));
    }
    const whole = inside === samples;
    counted = planes + (whole ? WEIGHT : COUNTED) * bytes;
    if (!whole) countSeen(planes, count);
    if (round === rounds) break;
    const gain = f64At(state, 9);
    const offset = f64At(state, 10);
    const products = whole && isKnown !== 0;
    if (products && parameters <= 4) stepSums(planes, count, gain as f32, offset as f32, parameters === 4, right);
    else {
      trackResiduals(planes + SEEN * bytes, value, count, gain as f32, offset as f32, planes + RESIDUAL * bytes);
      trackSums(
        planes, planes + bytes, planes + SLOPE_U * bytes, planes + SLOPE_V * bytes, value, counted, planes + RESIDUAL * bytes,
        count, parameters, right, products ? 0 : normal, rest,
      );
    }
    for (let i = 0; i < size; i++) put(step, i, four(right + ((i as usize) << 4)));
    if (products) memory.copy(matrix, known, ((size * size) as usize) << 3);
    else {
      let at = normal;
      for (let i = 0; i < size; i++)
        for (let j = 0; j <= i; j++, at += 16) put(matrix, i * size + j, four(at));
      if (whole) {
        put(state, 13, 1);
        memory.copy(known, matrix, ((size * size) as usize) << 3);
        isKnown = 1;
      }
    }
    // What the grain alone could say holds each parameter of the motion back: plain patterns stay where they are.
    const total = f64At(matrix, size * size - 1);
    for (let i = 0; i < parameters; i++) put(matrix, i * size + i, f64At(matrix, i * size + i) + 0.05 * total);
    put(matrix, parameters * size + parameters, f64At(matrix, parameters * size + parameters) + 1e-3 * total);
    put(matrix, size * size - 1, total + 1e-9 * total);
    if (!solved(matrix, step, size)) break;
    const pixels = sqrt(abs(f64At(state, 0) * f64At(state, 4) - f64At(state, 1) * f64At(state, 3)));
    if (!moveBack(state, step, parameters)) break;
    put(state, 10, offset + gain * f64At(step, size - 1));
    put(state, 9, min<f64>(8, max<f64>(0.1, gain * (1 + f64At(step, parameters)))));
    inside = lookAt(planes, count, state, image, width, height, offX, offY, scale, motion);
    let longest: f64 = 0;
    for (let i = 0; i < parameters; i++) longest = max<f64>(longest, abs(f64At(step, i)));
    if (longest * pixels < small) break;
  }
  trackLight(planes + SEEN * bytes, value, counted, count, middle, sums);
  put(state, 11, lightFrom(sums, middle, sums));
  put(state, 12, 1);
  return inside;
}

/**
 * How alike all of the pattern is to what is seen where `state`'s place (nine doubles, made the place it was asked for last) is moved by
 * each of `asked` moves, x and y in pixels of the plate (floats), in whose stead the correlation and the share that is seen are put. What
 * else it takes, see {@link trackAlign}; `scratch` holds 96 bytes.
 */
export function trackAsk(
  planes: usize, count: i32, samples: i32, image: usize, width: i32, height: i32, offX: f64, offY: f64, scale: f64,
  state: usize, moves: usize, asked: i32, scratch: usize,
): void {
  const bytes = (count as usize) << 2;
  const sums = scratch + 48;
  const value = planes + VALUE * bytes;
  const middle = load<f32>(value);
  let fromX: f64 = 0;
  let fromY: f64 = 0;
  for (let at = moves; at < moves + ((asked as usize) << 3); at += 8) {
    const x = load<f32>(at) as f64;
    const y = load<f32>(at, 4) as f64;
    for (let c = 0; c < 3; c++) {
      put(state, c, f64At(state, c) + (x - fromX) * f64At(state, 6 + c));
      put(state, 3 + c, f64At(state, 3 + c) + (y - fromY) * f64At(state, 6 + c));
    }
    fromX = x;
    fromY = y;
    const inside = lookAt(planes, count, state, image, width, height, offX, offY, scale, scratch);
    let score: f64 = 0;
    // What so few samples show is alike by chance.
    if (inside > 4 && (inside as f64) >= 0.1 * (samples as f64)) {
      const whole = inside === samples;
      if (!whole) countSeen(planes, count);
      trackLight(planes + SEEN * bytes, value, planes + (whole ? WEIGHT : COUNTED) * bytes, count, middle, sums);
      score = lightFrom(sums, middle, sums);
    }
    store<f32>(at, score as f32);
    store<f32>(at, (inside as f32) / (max(1, samples) as f32), 4);
  }
}

/** The correlation that six sums of light (see trackLight) tell; gain and offset go to `light`, which may be where the sums are. */
export function lightFrom(sums: usize, middle: f32, light: usize): f64 {
  const sw = f64At(sums, 0);
  if (!(sw > 0)) {
    put(light, 0, 1);
    put(light, 1, 0);
    return 0;
  }
  const t = f64At(sums, 1) / sw;
  const s = f64At(sums, 2) / sw;
  const vt = f64At(sums, 3) / sw - t * t;
  const vs = f64At(sums, 5) / sw - s * s;
  const vts = f64At(sums, 4) / sw - t * s;
  const gain: f64 = vt > 1e-6 ? vts / vt : 1;
  put(light, 0, gain);
  put(light, 1, s + (middle as f64) - gain * (t + (middle as f64)));
  return vt > 1e-6 && vs > 1e-6 ? vts / sqrt(vt * vs) : 0;
}
