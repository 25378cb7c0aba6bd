/** Masks made larger. */

/**
 * Sets each byte where any of the `length` bytes from it on, `step` apart, is set, in place; what lies beyond `bytes` counts as nothing.
 * Reads and writes, but does not change, 16 bytes beyond, which are 0.
 */
export function spreadBack(mask: usize, bytes: usize, length: usize, step: usize): void {
  // What so many bytes say together is joined to the same of those after them.
  for (let span: usize = 1; span < length; ) {
    const more = min(span, length - span);
    const ahead = more * step;
    for (let at: usize = 0; at + ahead < bytes; at += 16) v128.store(mask + at, v128.or(v128.load(mask + at), v128.load(mask + at + ahead)));
    span += more;
  }
}
