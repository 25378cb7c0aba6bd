/** Resource routes: one function for each method that an address takes; what comes back goes out as JSON, and so do faults. */
import type { AppLoadContext } from 'react-router';

type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';
interface ResourceArgs {
  request: Request;
  context: AppLoadContext;
}

/** The loader and the action of a route. A method that it does not take is answered by 405, with those that it does. */
export function resource<A extends ResourceArgs>(methods: Partial<Record<Method, (asked: A) => unknown>>) {
  const answer = async (asked: A): Promise<Response> => {
    const { request, context } = asked;
    const method = request.method === 'HEAD' ? 'GET' : request.method;
    const act = methods[method as Method];
    if (!act) {
      const allowed = Object.keys(methods).join(', ');
      const message = `${request.method} cannot be done at this address; it takes ${allowed}.`;
      return Response.json({ code: 'wrong-method', message }, { status: 405, headers: { Allow: allowed } });
    }
    try {
      const value = await act(asked);
      return value instanceof Response ? value : Response.json(value ?? null);
    } catch (error) {
      const { status, ...told } = context.answer.tell(error);
      return Response.json(told, { status });
    }
  };
  return { loader: answer, action: answer };
}
