/** Hot kernels in AssemblyScript with SIMD; built by scripts/build-wasm.mjs. The host lays buffers out in memory itself. */

/**
 * One separable pass along rows. `source` holds `rows` rows of `stride` floats, each padded by `radius`·`channels` floats
 * at both ends; writes `count` floats a row to `target`. `weights` holds 2·radius+1 floats.
 */
export function alongRows(source: usize, stride: i32, target: usize, count: i32, rows: i32, channels: i32, weights: usize, radius: i32): void {
  const taps = 2 * radius + 1;
  const step = (channels as usize) << 2;
  for (let y = 0; y < rows; y++) {
    const from = source + (((y * stride) as usize) << 2);
    const to = target + (((y * count) as usize) << 2);
    let x = 0;
    for (; x <= count - 16; x += 16) {
      let p = from + ((x as usize) << 2);
      let a = f32x4.splat(0);
      let b = a;
      let c = a;
      let d = a;
      for (let t = 0; t < taps; t++) {
        const w = v128.load32_splat(weights + ((t as usize) << 2));
        a = f32x4.add(a, f32x4.mul(w, v128.load(p)));
        b = f32x4.add(b, f32x4.mul(w, v128.load(p, 16)));
        c = f32x4.add(c, f32x4.mul(w, v128.load(p, 32)));
        d = f32x4.add(d, f32x4.mul(w, v128.load(p, 48)));
        p += step;
      }
      const o = to + ((x as usize) << 2);
      v128.store(o, a);
      v128.store(o, b, 16);
      v128.store(o, c, 32);
      v128.store(o, d, 48);
    }
    for (; x < count; x++) {
      let p = from + ((x as usize) << 2);
      let sum: f32 = 0;
      for (let t = 0; t < taps; t++) {
        sum += load<f32>(weights + ((t as usize) << 2)) * load<f32>(p);
        p += step;
      }
      store<f32>(to + ((x as usize) << 2), sum);
    }
  }
}

/** Columns of floats that are worked on together: what the taps read of them stays in the nearest cache. */
const STRIP: i32 = 64;

/** One separable pass down columns; rows outside the picture repeat the edge row. `count` floats a row. */
export function downColumns(source: usize, target: usize, count: i32, rows: i32, weights: usize, radius: i32): void {
  const bytes = (count as usize) << 2;
  for (let strip = 0; strip < count; strip += STRIP) {
    const end = min(count, strip + STRIP);
    for (let y = 0; y < rows; y++) {
      const to = target + (y as usize) * bytes;
      let x = strip;
      for (; x <= end - 16; x += 16) {
        const column = source + ((x as usize) << 2);
        let a = f32x4.splat(0);
        let b = a;
        let c = a;
        let d = a;
        for (let t = -radius; t <= radius; t++) {
          const row = max(0, min(rows - 1, y + t));
          const p = column + (row as usize) * bytes;
          const w = v128.load32_splat(weights + (((t + radius) as usize) << 2));
          a = f32x4.add(a, f32x4.mul(w, v128.load(p)));
          b = f32x4.add(b, f32x4.mul(w, v128.load(p, 16)));
          c = f32x4.add(c, f32x4.mul(w, v128.load(p, 32)));
          d = f32x4.add(d, f32x4.mul(w, v128.load(p, 48)));
        }
        const o = to + ((x as usize) << 2);
        v128.store(o, a);
        v128.store(o, b, 16);
        v128.store(o, c, 32);
        v128.store(o, d, 48);
      }
      for (; x < end; x++) {
        let sum: f32 = 0;
        for (let t = -radius; t <= radius; t++) {
          const row = max(0, min(rows - 1, y + t));
          sum += load<f32>(weights + (((t + radius) as usize) << 2)) * load<f32>(source + (row as usize) * bytes + ((x as usize) << 2));
        }
        store<f32>(to + ((x as usize) << 2), sum);
      }
    }
  }
}
