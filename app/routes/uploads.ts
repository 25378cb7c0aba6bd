/** Begins an upload; its files follow one by one. */
import type { Route } from './+types/uploads';
import { asJson } from './answer.ts';

export const action = ({ context }: Route.ActionArgs) => asJson(async () => ({ uploadId: await context.services.uploads.create() }));
