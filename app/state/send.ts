/** Talking to the server: one place that knows what a refusal and what an outage look like. */

/** The server said no, in words for the artist. */
export class Refused extends Error {
  readonly code: string;
  constructor(code: string, message: string) {
    super(message);
    this.name = 'Refused';
    this.code = code;
  }
}

/** The server, or its database, could not be reached; asking again later may work. */
export class Away extends Error {
  constructor() {
    super('The server cannot be reached. Is Mottrel still running?');
    this.name = 'Away';
  }
}

/** Sends JSON and gives the JSON that comes back. Throws Refused or Away. */
export async function send<T>(path: string, options: { method?: 'GET' | 'POST' | 'DELETE'; body?: unknown; signal?: AbortSignal } = {}): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method: options.method ?? (options.body === undefined ? 'GET' : 'POST'),
      headers: options.body === undefined ? undefined : { 'Content-Type': 'application/json' },
      body: options.body === undefined ? undefined : JSON.stringify(options.body),
      signal: options.signal,
    });
  } catch (error) {
    if (options.signal?.aborted) throw error;
    throw new Away();
  }
  if (response.status === 502 || response.status === 503 || response.status === 504) throw new Away();
  const value = (await response.json().catch(() => null)) as (T & { code?: string; message?: string }) | null;
  if (!response.ok) {
    if (response.status >= 500 && !value?.code) throw new Away();
    throw new Refused(value?.code ?? 'unknown', value?.message ?? 'The server refused this.');
  }
  return value as T;
}
