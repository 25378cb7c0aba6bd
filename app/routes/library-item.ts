/** One thing in a production's library, to be taken away. */
import { Problem } from '~/server/problem.ts';
import type { Route } from './+types/library-item';
import { asJson } from './answer.ts';

export const action = ({ params, request, context }: Route.ActionArgs) =>
  asJson(() => {
    if (request.method !== 'DELETE') throw new Problem('wrong-method', 'A thing in the library can only be deleted here.', 405);
    return context.services.library.remove(params.productionId, params.itemId);
  });
