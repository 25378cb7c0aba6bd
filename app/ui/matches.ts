/** How well something fits what is typed: each word of it has to be in the text; at the beginning of words is better, and early in it best. 0: not at all. */
export function matches(text: string, search: string): number {
  const within = text.toLowerCase();
  let score = 1;
  for (const word of search.toLowerCase().split(/\s+/).filter(Boolean)) {
    const at = within.indexOf(word);
    if (at < 0) return 0;
    const begins = at === 0 || /[^a-z0-9]/.test(within[at - 1]);
    score *= (begins ? 1 : 0.5) / (1 + at / 200);
  }
  return score;
}
