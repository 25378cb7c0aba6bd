/** The docs for users, as the program itself shows them. */
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { Marked } from 'marked';
import { anchorOf } from '../core/guides/anchor.ts';
import { notFound } from './problem.ts';
import { ROOT } from './root.ts';

/** Pages in the order in which they are listed: the file in docs/, and its title. */
export const HELP_PAGES = [
  { id: 'by-strokes', title: 'Isolating by strokes' },
  { id: 'by-hand', title: 'Isolating by hand, edges and tracking' },
  { id: 'composing', title: 'Composing and writing' },
  { id: 'kinds', title: 'Effects and elements' },
  { id: 'outputs', title: 'Kinds of outputs' },
  { id: 'trust', title: 'What can be trusted' },
  { id: 'quality', title: 'What Peel can and cannot do' },
] as const;

/** A stretch of a page under one heading: what is searched. */
export interface HelpSection {
  page: string;
  pageTitle: string;
  /** Of the heading within its page; empty for what is above the first. */
  anchor: string;
  heading: string;
  text: string;
}

const plain = (markdown: string): string =>
  markdown
    .replace(/!\[[^\]]*\]\([^)]*\)/g, '')
    .replace(/\[([^\]]*)\]\([^)]*\)/g, '$1')
    .replace(/[#>*`|_]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

const sourceOf = async (id: string): Promise<string> => {
  if (!HELP_PAGES.some((p) => p.id === id)) throw notFound('page of the help');
  return readFile(path.join(ROOT, 'docs', `${id}.md`), 'utf8');
};

/** Links between docs lead to pages of the help, pictures to where they are served. */
const linked = (href: string): string =>
  href.replace(/^(?:docs\/)?([a-z-]+)\.md(#.*)?$/, (_all, id: string, anchor = '') => (HELP_PAGES.some((p) => p.id === id) ? `/help/${id}${anchor}` : '/help'));

const marked = new Marked({
  renderer: {
    heading({ tokens, depth, text }) {
      return `<h${depth} id="${anchorOf(text)}">${this.parser.parseInline(tokens)}</h${depth}>\n`;
    },
    link({ href, tokens }) {
      return `<a href="${linked(href)}">${this.parser.parseInline(tokens)}</a>`;
    },
    image({ href, text }) {
      // Those of effects and elements are served with the pages, for the gallery shows them too.
      return `<img src="/${href.includes('public/kinds/') ? 'kinds' : 'help-pictures'}/${path.basename(href)}" alt="${text.replace(/"/g, '&quot;')}" loading="lazy">`;
    },
  },
});

/** A page as HTML. Throws "not found" where there is none. */
export async function helpPage(id: string): Promise<{ id: string; title: string; html: string }> {
  const source = await sourceOf(id);
  const title = HELP_PAGES.find((p) => p.id === id)?.title ?? '';
  return { id, title, html: await marked.parse(source) };
}

/** All stretches of all pages, for the search. */
export async function helpSections(): Promise<HelpSection[]> {
  const all = await Promise.all(
    HELP_PAGES.map(async ({ id, title }) => {
      const parts = (await sourceOf(id)).split(/^(?=#{1,4} )/m);
      return parts.map((part): HelpSection => {
        const [, heading = ''] = /^#{1,4} (.+)$/m.exec(part) ?? [];
        const top = /^# /.test(part);
        return { page: id, pageTitle: title, anchor: top ? '' : anchorOf(heading), heading: plain(heading) || title, text: plain(part.replace(/^#.*$/m, '')) };
      });
    }),
  );
  return all.flat().filter((s) => s.text !== '');
}
