/** Masks and what else carrying goes by, packed: a mask of a film frame takes a few kilobytes instead of half a megabyte. */

/** A mask of 0 and 1 as the lengths of its runs, 0 first, each a whole number of seven bits a byte, low bits first. */
export function runLengthEncode(mask: Uint8Array): Uint8Array {
  const out: number[] = [];
  for (let at = 0, value = 0; at < mask.length; value = 1 - value) {
    const end = mask.indexOf(1 - value, at);
    let run = (end < 0 ? mask.length : end) - at;
    at += run;
    for (; run >= 128; run = Math.floor(run / 128)) out.push(128 | (run & 127));
    out.push(run);
  }
  return Uint8Array.from(out);
}

/** The mask of `size` pixels again; throws where the bytes do not make up just that. */
export function runLengthDecode(bytes: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let [at, value, run, shift] = [0, 0, 0, 1];
  for (const byte of bytes) {
    run += (byte & 127) * shift;
    shift *= 128;
    if (byte & 128) continue;
    if (at + run > size) throw new RangeError('A packed mask is larger than its frame.');
    if (value === 1) out.fill(1, at, at + run);
    at += run;
    [value, run, shift] = [1 - value, 0, 1];
  }
  if (at !== size) throw new RangeError('A packed mask ends too soon.');
  return out;
}
