import type { Route } from './+types/jobs';
import { asJson } from './answer.ts';

/** Work that is waiting, running or paused. */
export const loader = ({ context }: Route.LoaderArgs) => asJson(() => context.services.queue.list({ open: true }));
