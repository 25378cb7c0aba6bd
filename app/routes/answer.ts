/** How the faults of loaders and forms of pages become answers: each with a code, what happened and what to do next. */
import { type AppLoadContext, data } from 'react-router';

/** For loaders of pages: a fault becomes the error page. */
export async function orErrorPage<T>(context: AppLoadContext, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Response) throw error;
    const { status, ...told } = context.answer.tell(error);
    throw data(told, { status });
  }
}

/** For forms: a fault comes back as `problem` beside the form. */
export async function orProblem<T>(context: AppLoadContext, work: () => Promise<T>) {
  try {
    return data({ problem: null as string | null, result: await work() }, { status: 200 });
  } catch (error) {
    if (error instanceof Response) throw error;
    const { status, message } = context.answer.tell(error);
    return data({ problem: message as string | null, result: null }, { status });
  }
}
