/** The one event stream of a page: how far long work is, whether the database answers, and every step that any page makes on the shot it shows, and which others change. */
import { idSchema } from '~/core/document/schema.ts';
import type { Route } from './+types/events';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET({ request, context: { services, answer } }) {
    const { queue, changes, health } = services;
    const query = new URL(request.url).searchParams;
    const shotId = query.get('shot');
    const page = idSchema.safeParse(query.get('page')).data;
    return answer.events(request, (send) => {
      const leave = [queue.subscribe((job) => send({ job })), health.subscribe((now) => send({ health: now }))];
      if (shotId) leave.push(changes.subscribe(shotId, (change) => send({ change })));
      if (shotId) leave.push(changes.subscribeToFootage(shotId, () => send({ footage: true })));
      if (shotId) leave.push(changes.subscribeToAll((elsewhere) => elsewhere !== shotId && send({ elsewhere })));
      if (shotId && page) leave.push(changes.attend(shotId, page, (pages) => send({ pages })));
      return () => {
        for (const off of leave) off();
      };
    });
  },
});

export { action, loader };
