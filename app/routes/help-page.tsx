import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { PageFrame } from '../ui/page-frame.tsx';
import type { Route } from './+types/help-page';
import { orErrorPage } from './answer.ts';

export const meta: Route.MetaFunction = ({ data }) => [{ title: `${data?.title ?? 'Help'} – Mottrel` }];
export const loader = ({ params, context }: Route.LoaderArgs) => orErrorPage(context, () => context.services.help.page(params.page));

export default function HelpPage({ loaderData }: Route.ComponentProps) {
  const { title, html } = loaderData;
  const { hash } = useLocation();
  // The page scrolls inside the program's own frame, where the browser does not look for anchors.
  useEffect(() => {
    const target = hash ? document.getElementById(hash.slice(1)) : null;
    target?.scrollIntoView({ block: 'start' });
  }, [hash, html]);
  return (
    <PageFrame trail={[{ label: 'Help', to: '/help' }, { label: title }]}>
      {/* Made on the server from the docs that ship with the program. */}
      <article className="prose" dangerouslySetInnerHTML={{ __html: html }} />
    </PageFrame>
  );
}
