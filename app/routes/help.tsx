import MiniSearch from 'minisearch';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { TEXT_FIELD } from '../ui/controls.tsx';
import { PageFrame } from '../ui/page-frame.tsx';
import type { Route } from './+types/help';
import { orErrorPage } from './answer.ts';

export const meta: Route.MetaFunction = () => [{ title: 'Help – Mottrel' }];
export const loader = ({ context }: Route.LoaderArgs) =>
  orErrorPage(context, async () => ({ sections: await context.services.help.sections(), pages: context.services.help.pages }));

/** Letters of a text that are shown round what was found. */
const EXCERPT = 180;

function excerpt(text: string, terms: readonly string[]): string {
  const at = Math.max(0, ...terms.map((t) => text.toLowerCase().indexOf(t.toLowerCase())));
  const from = Math.max(0, at - 60);
  return `${from > 0 ? '… ' : ''}${text.slice(from, from + EXCERPT)}${from + EXCERPT < text.length ? ' …' : ''}`;
}

export default function Help({ loaderData }: Route.ComponentProps) {
  const { sections, pages } = loaderData;
  const [query, setQuery] = useState('');
  const index = useMemo(() => {
    const made = new MiniSearch({
      fields: ['heading', 'text', 'pageTitle'],
      storeFields: [],
      searchOptions: { boost: { heading: 3 }, prefix: true, fuzzy: 0.15 },
    });
    made.addAll(sections.map((s, id) => ({ id, ...s })));
    return made;
  }, [sections]);
  const found = query.trim() === '' ? [] : index.search(query, { combineWith: 'AND' }).slice(0, 12);
  return (
    <PageFrame trail={[{ label: 'Help' }]}>
      <h1 className="mb-4 font-semibold text-xl">Help</h1>
      <input
        type="search"
        aria-label="Search the help"
        placeholder="What are you looking for? feather, doubt, title behind …"
        className={`${TEXT_FIELD} !h-10 mb-4 text-base`}
        value={query}
        onChange={(e) => setQuery(e.target.value)}
      />
      <div aria-live="polite">
        {query.trim() !== '' && found.length === 0 && <p className="text-quiet text-sm">Nothing in the help says that. Try another word.</p>}
        <ul className="space-y-3">
          {found.map(({ id, terms }) => {
            const s = sections[id as number];
            return (
              <li key={id as number}>
                <Link to={`/help/${s.page}${s.anchor ? `#${s.anchor}` : ''}`} className="font-medium underline">
                  {s.heading}
                </Link>{' '}
                <span className="text-quiet text-sm">in {s.pageTitle}</span>
                <p className="text-quiet text-sm">{excerpt(s.text, terms)}</p>
              </li>
            );
          })}
        </ul>
      </div>
      {query.trim() === '' && (
        <ul className="space-y-2">
          {pages.map((p) => (
            <li key={p.id}>
              <Link to={`/help/${p.id}`} className="font-medium underline">
                {p.title}
              </Link>
            </li>
          ))}
          <li>
            <Link to="/shortcuts" className="font-medium underline">
              Keyboard shortcuts
            </Link>
          </li>
        </ul>
      )}
    </PageFrame>
  );
}
