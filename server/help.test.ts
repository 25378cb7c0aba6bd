import { existsSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { HELP_PAGES, helpPage, helpSections } from './help.ts';
import { ROOT } from './root.ts';

describe('the help', () => {
  it.each(HELP_PAGES.map((p) => p.id))('%s is a page whose links lead somewhere', async (id) => {
    const { html } = await helpPage(id);
    expect(html).toContain('<h1');
    const ids = new Map(await Promise.all(HELP_PAGES.map(async (p) => [p.id as string, (await helpPage(p.id)).html] as const)));
    for (const [, href] of html.matchAll(/href="([^"]+)"/g)) {
      const [, page, anchor] = /^\/help(?:\/([a-z-]+))?(?:#(.+))?$/.exec(href) ?? [];
      expect([href, page === undefined || ids.has(page)]).toEqual([href, true]);
      if (page && anchor) expect(ids.get(page)).toContain(`id="${anchor}"`);
    }
    for (const [, name] of html.matchAll(/src="\/help-pictures\/([^"]+)"/g)) expect(existsSync(path.join(ROOT, 'docs', 'screenshots', name))).toBe(true);
  });

  it('is searched by stretches, each under its heading', async () => {
    const sections = await helpSections();
    expect(sections.find((s) => s.page === 'by-strokes' && s.anchor === 'carrying')?.text).toContain('Ctrl Enter');
    expect(sections.every((s) => s.heading !== '' && !s.text.includes('|'))).toBe(true);
  });

  it('has no other pages: nothing else of the disk is read', async () => {
    for (const id of ['developers', '../README', '..%2Fpackage', '']) await expect(helpPage(id)).rejects.toMatchObject({ status: 404 });
  });
});
