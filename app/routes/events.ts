/** The one event stream of a page: how far long work is, whether the database answers, and every step that any page makes on the shot it shows. */
import type { Route } from './+types/events';
import { resource } from './resource.ts';

const { loader, action } = resource<Route.LoaderArgs>({
  GET({ request, context: { services, answer } }) {
    const { queue, changes, health } = services;
    const shotId = new URL(request.url).searchParams.get('shot');
    return answer.events(request, (send) => {
      const leave = [queue.subscribe((job) => send({ job })), health.subscribe((now) => send({ health: now }))];
      if (shotId) leave.push(changes.subscribe(shotId, (change) => send({ change })));
      return () => {
        for (const off of leave) off();
      };
    });
  },
});

export { action, loader };
