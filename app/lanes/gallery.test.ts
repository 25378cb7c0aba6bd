import { existsSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { STARTS } from '~/core/starts/starts.ts';
import { kindsPage } from '~/scripts/kinds-page.ts';
import { GROUPS } from './addable.ts';

describe('the gallery', () => {
  it('has a picture of each effect and element, and each is told of in the docs as it is (npm run docs)', () => {
    for (const { kinds } of GROUPS) for (const { id } of kinds) expect([id, existsSync(`public/kinds/${id}.webp`)]).toEqual([id, true]);
    for (const { id } of STARTS) expect([id, existsSync(`public/kinds/start-${id}.webp`)]).toEqual([id, true]);
    expect(readFileSync('docs/kinds.md', 'utf8') === kindsPage()).toBe(true);
  });

  it('calls no two things by one name', () => {
    for (const { kinds } of GROUPS) expect(new Set(kinds.map((k) => k.label)).size).toBe(kinds.length);
  });
});
