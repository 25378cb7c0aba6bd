/** What the web server hands to every loader and action. */
import type { Answer } from '~/server/answer.ts';
import type { Services } from '~/server/services.ts';

declare module 'react-router' {
  interface AppLoadContext {
    services: Services;
    answer: Answer;
    nonce: string;
  }
}
