/** The frames of a Peel that have been found with its strokes as they are, each with its doubt. */
import type { Route } from './+types/shot-peel';
import { asJson } from './answer.ts';

export const loader = ({ params, context }: Route.LoaderArgs) => asJson(() => context.services.peels.found(params.shotId, params.partId));
