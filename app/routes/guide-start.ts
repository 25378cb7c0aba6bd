/** A shot of the demo film on which a guide can be tried. */
import type { Route } from './+types/guide-start';
import { asJson } from './answer.ts';

export const action = ({ params, context }: Route.ActionArgs) => asJson(() => context.services.shotForGuide(params.guideId));
