import { readFile, rm } from 'node:fs/promises';
import { request } from 'node:http';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newSubject } from '../core/document/records.ts';
import { type RunningInstance, startInstance } from '../tests/instance.ts';
import { ffmpeg, temporaryDirectory, until } from '../tests/services.ts';

let dir: string;
let instance: RunningInstance;
let shotId: string;
let plateId: string;
let productionId: string;
beforeAll(async () => {
  dir = await temporaryDirectory();
  instance = await startInstance(dir, { env: { MOTTREL_MAX_FILE_MB: '2', MOTTREL_MAX_DOCUMENT_MB: '1' } });
  const form = new FormData();
  form.set('intent', 'create');
  form.set('name', 'Harbour');
  expect((await post('/?index', form)).status).toBe(200);
  const page = await (await fetch(instance.address)).text();
  productionId = /\/productions\/([0-9a-f-]{36})/.exec(page)?.[1] ?? '';
  const file = path.join(dir, 'clip.mp4');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=160x90:r=24:d=0.5', '-pix_fmt', 'yuv420p', file);
  const { uploadId } = await json('/uploads', 'POST');
  await json(`/uploads/${uploadId}/0?name=clip.mp4`, 'PUT', await readFile(file));
  ({ shotId, plateId } = await json(`/uploads/${uploadId}`, 'POST', { productionId, rate: '24' }));
  await until(async () => (await fetch(`${instance.address}/plates/${plateId}/proxy/0`)).ok);
});
afterAll(async () => {
  await instance.kill('SIGINT');
  await rm(dir, { recursive: true, force: true });
});

const post = (where: string, body: FormData | string, headers: Record<string, string> = {}) =>
  fetch(instance.address + where, { method: 'POST', body, headers });
// biome-ignore lint/suspicious/noExplicitAny: answers of many shapes
async function json(where: string, method: string, body?: object | Uint8Array): Promise<any> {
  const raw = body instanceof Uint8Array;
  const response = await fetch(instance.address + where, {
    method,
    body: raw ? new Blob([body as Uint8Array<ArrayBuffer>]) : body && JSON.stringify(body),
    headers: body && !raw ? { 'content-type': 'application/json' } : undefined,
  });
  return { status: response.status, ...((await response.json()) as object) };
}
const change = (id: string, edits: unknown[]) => ({ role: 'do', page: 'test', change: { id, label: 'Test', edits } });

/** A request as no browser would send it, with headers of its own. */
const rawRequest = (headers: Record<string, string>, method = 'GET', where = '/') =>
  new Promise<{ status: number; body: string }>((resolve, reject) => {
    const { hostname, port } = new URL(instance.address);
    const sent = request({ hostname, port, path: where, method, headers }, (response) => {
      let body = '';
      response.on('data', (chunk) => {
        body += chunk;
      });
      response.on('end', () => resolve({ status: response.statusCode ?? 0, body }));
    });
    sent.on('error', reject);
    sent.end();
  });

describe('headers', () => {
  it('isolate the page, keep strangers out of frames and name what may run', async () => {
    for (const where of ['/', '/icon.svg', `/plates/${plateId}/full/0`]) {
      const { headers } = await fetch(instance.address + where);
      expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
      expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
      expect(headers.get('cross-origin-resource-policy')).toBe('same-origin');
      expect(headers.get('x-content-type-options')).toBe('nosniff');
      expect(headers.get('x-powered-by')).toBeNull();
    }
    const policy = (await fetch(instance.address)).headers.get('content-security-policy') ?? '';
    expect(policy).toContain("frame-ancestors 'none'");
    expect(policy).toMatch(/script-src 'self' 'wasm-unsafe-eval' 'nonce-[^']+'/);
  });

  it('let frames be kept for ever', async () => {
    const response = await fetch(`${instance.address}/plates/${plateId}/full/3`);
    expect(response.headers.get('cache-control')).toBe('public, max-age=31536000, immutable');
    expect(response.headers.get('content-type')).toBe('image/jpeg');
  });
});

it('gives pages whose libraries do not check themselves, whatever the shell says', async () => {
  const page = await (await fetch(instance.address)).text();
  const scripts = new Set(page.match(/\/assets\/[\w.-]+\.js/g));
  expect(scripts.size).toBeGreaterThan(3);
  for (const script of scripts) expect((await (await fetch(instance.address + script)).text()).includes('hydration-mismatch'), script).toBe(false);
});

describe('strangers', () => {
  it('cannot post from another site', async () => {
    const foreign: Record<string, string>[] = [{ origin: 'https://elsewhere.example' }, { 'sec-fetch-site': 'cross-site' }, { 'sec-fetch-site': 'same-site' }];
    for (const headers of foreign) {
      const answer = await rawRequest({ ...headers, 'content-length': '0' }, 'POST', '/uploads');
      expect([answer.status, answer.body]).toEqual([403, expect.stringContaining('another site')]);
    }
    expect((await rawRequest({ origin: instance.address, 'content-length': '0' }, 'POST', '/uploads')).status).toBe(200);
  });

  it('cannot reach it under a name of theirs', async () => {
    expect((await rawRequest({ host: 'elsewhere.example' })).status).toBe(421);
    expect((await rawRequest({ host: `localhost:${new URL(instance.address).port}` })).status).toBe(200);
  });

  it('reach it on loopback only', async () => {
    expect(new URL(instance.address).hostname).toBe('127.0.0.1');
  });
});

describe('wrong requests', () => {
  it.each<[string, string, string, unknown, number, RegExp]>([
    ['a frame beyond the end', 'GET', '/plates/PLATE/full/999', undefined, 404, /not here any more/],
    ['a frame that is no number', 'GET', '/plates/PLATE/full/first', undefined, 422, /./],
    ['a size that there is not', 'GET', '/plates/PLATE/huge/0', undefined, 422, /./],
    ['a plate that climbs out', 'GET', '/plates/..%2f..%2fdb/full/0', undefined, 404, /not here/],
    ['a file that climbs out', 'GET', '/outputs/00000000-0000-0000-0000-000000000000/files/..%2f..%2faccess.json', undefined, 404, /not here/],
    ['an upload that there is not', 'PUT', '/uploads/00000000-0000-0000-0000-000000000000/0?name=a', undefined, 404, /not here/],
    ['an upload without a name', 'PUT', '/uploads/00000000-0000-0000-0000-000000000000/0', undefined, 422, /./],
    ['a change that is none', 'POST', '/shots/SHOT/changes', { role: 'do' }, 422, /./],
    [
      'a change of a field that there is not',
      'POST',
      '/shots/SHOT/changes',
      change('x1', [{ kind: 'assign', id: 'cast', values: { x: true } }]),
      409,
      /no longer in the shot/,
    ],
    ['an undo of nothing', 'POST', '/shots/SHOT/changes', { role: 'undo', page: 'p', id: 'u', target: 'nothing' }, 409, /on another page in the meantime/],
    ['a shot that there is not', 'POST', '/shots/nowhere/changes', change('x2', [{ kind: 'remove', id: 'a' }]), 404, /not here any more/],
    ['an output beyond the end', 'POST', '/shots/SHOT/outputs', { kind: 'composed-mp4', sound: false, first: 0, last: 500 }, 422, /ends at frame 11/],
    ['a document that is none', 'POST', '/shots/SHOT/document', { hello: 1 }, 422, /not a shot document/],
    ['a job that there is not', 'POST', '/jobs/nowhere', { action: 'cancel' }, 404, /not here/],
    ['a job told to dance', 'POST', '/jobs/nowhere', { action: 'dance' }, 422, /./],
  ])('%s is answered with a code and words', async (_name, method, where, body, status, message) => {
    const answer = await json(
      where.replace('PLATE', plateId).replace('SHOT', shotId),
      method,
      (method === 'PUT' ? new TextEncoder().encode('x') : body) as object,
    );
    expect(answer.status).toBe(status);
    expect(answer.message).toMatch(message);
    expect(answer.code).toMatch(/^[a-z-]+$/);
  });

  it('broken JSON and bodies that are too large are refused', async () => {
    expect(await (await post(`/shots/${shotId}/changes`, '{"role":', { 'content-type': 'application/json' })).json()).toMatchObject({ code: 'not-json' });
    const vast = JSON.stringify(change('v', [{ kind: 'insert', parent: 'cast', index: 0, record: newSubject('a', 'x'.repeat(1_100_000)) }]));
    expect((await post(`/shots/${shotId}/changes`, vast, { 'content-type': 'application/json' })).status).toBe(413);
    const { uploadId } = await json('/uploads', 'POST');
    expect(await json(`/uploads/${uploadId}/0?name=big.mp4`, 'PUT', new Uint8Array(3 * 1024 * 1024))).toMatchObject({ status: 413, code: 'too-large' });
  });

  it('a name that is empty is refused in words beside the form', async () => {
    const form = new FormData();
    form.set('intent', 'create');
    form.set('name', '  ');
    const response = await post('/?index', form);
    expect(response.status).toBe(422);
    expect(await response.text()).toContain('Give it a name.');
  });

  it('a page that there is not says so', async () => {
    const response = await fetch(`${instance.address}/shots/nowhere/isolate`);
    expect(response.status).toBe(404);
    expect(await response.text()).toContain('This shot is not here any more');
  });
});

describe('the document', () => {
  it('goes out as a file and comes in again; its schema is published', async () => {
    await json(`/shots/${shotId}/changes`, 'POST', change('d1', [{ kind: 'insert', parent: 'cast', index: 0, record: newSubject('s', 'Kite') }]));
    const response = await fetch(`${instance.address}/shots/${shotId}/document`);
    expect(response.headers.get('content-disposition')).toContain('clip.mottrel.json');
    const document = (await response.json()) as { cast: { name: string }[] };
    document.cast[0].name = 'Kite again';
    expect(await json(`/shots/${shotId}/document`, 'POST', document)).toMatchObject({ status: 200, label: 'Import document' });
    for (const name of ['document', 'curves']) {
      const schema = await (await fetch(`${instance.address}/${name}.schema.json`)).json();
      expect(schema).toEqual(JSON.parse(await readFile(path.join(import.meta.dirname, '..', 'docs', `${name}.schema.json`), 'utf8')));
    }
  });
});

describe('a document of another version', () => {
  const read = async () => JSON.parse(await (await fetch(`${instance.address}/shots/${shotId}/document`)).text());
  const opens = async () => (await fetch(`${instance.address}/shots/${shotId}/compose`)).status;

  it('with kinds and fields that this one does not know opens, and is written back as it came', async () => {
    const before = await read();
    const item = { enabled: true, mix: { constant: 1 }, lives: [], follow: null, settings: { spread: { constant: 3 } } };
    const later = {
      ...before,
      cast: [...before.cast, { ...newSubject('later', 'Later'), parts: [{ id: 'wisp', type: 'cloud', name: 'Wisps', seeds: [1, 2] }] }],
      lanes: [...before.lanes, { ...item, id: 'glow', type: 'effect', effect: 'glow', lane: 'inside', subject: 'later', tint: 'amber' }],
    };
    expect(await json(`/shots/${shotId}/document`, 'POST', later)).toMatchObject({ status: 200 });
    expect(await opens()).toBe(200);
    const written = await read();
    expect(written.cast.at(-1).parts).toEqual(later.cast.at(-1).parts);
    // What this version knows and that one did not is added as it starts.
    expect(written.lanes.at(-1)).toMatchObject(later.lanes.at(-1) as object);
    const name = await json(`/shots/${shotId}/snapshots`, 'POST', { name: 'Later', document: later });
    expect(await json(`/shots/${shotId}/snapshots/${name.id}`, 'GET')).toMatchObject({ status: 200 });
    await json(`/shots/${shotId}/snapshots/${name.id}`, 'DELETE');
    expect(await json(`/shots/${shotId}/document`, 'POST', before)).toMatchObject({ status: 200 });
  });

  it('that is later than this one is refused in words, and the shot stays as it is', async () => {
    const before = await read();
    const later = await json(`/shots/${shotId}/document`, 'POST', { ...before, version: 3 });
    expect(later).toMatchObject({ status: 422, code: 'not-a-document', message: expect.stringContaining('written by a later version of Mottrel') });
    expect(await opens()).toBe(200);
    expect(await read()).toEqual(before);
  });
});

describe('the library of a production', () => {
  const at = (x: number, y: number) => ({ x, y, inX: 0, inY: 0, outX: 0, outY: 0 });
  const curves = (name: string) => ({
    format: 'mottrel-curves',
    version: 1,
    name,
    width: 160,
    height: 90,
    curves: [{ closed: true, between: 'straight', shape: { constant: [at(1, 1), at(9, 1), at(9, 9)] } }],
  });
  const shape = (name: string) => ({ kind: 'shape', name, content: curves(name) });
  const library = () => `/productions/${productionId}/library`;
  const list = async () => (await (await fetch(`${instance.address}${library()}`)).json()) as { id: string; kind: string; name: string; content: unknown }[];

  it('keeps shapes, gives them back in order, and lets them go', async () => {
    const kept = await json(library(), 'POST', shape('Sail'));
    await json(library(), 'POST', shape('Kite'));
    expect((await list()).map((s) => s.name)).toEqual(['Sail', 'Kite']);
    await json(`${library()}/${kept.id}`, 'DELETE');
    expect((await list()).map((s) => s.name)).toEqual(['Kite']);
    expect(await json(`${library()}/${kept.id}`, 'DELETE')).toMatchObject({ status: 404 });
  });

  it('keeps presets of edges and effects with their keys', async () => {
    const { edge } = newSubject('s', 'Any');
    const keyed = { keys: [0, 24].map((frame) => ({ frame, value: frame, ease: 'linear' })) };
    const content = { effect: 'gaussian-blur', mix: { constant: 1 }, settings: { x: keyed } };
    await json(library(), 'POST', { kind: 'edge', name: 'Soft', content: { ...edge, featherOut: keyed } });
    await json(library(), 'POST', { kind: 'effect', name: 'Out of focus', content });
    const [, soft, blur] = await list();
    expect(soft).toMatchObject({ kind: 'edge', name: 'Soft', content: { featherOut: keyed, grow: { constant: 0 } } });
    expect(blur).toMatchObject({ kind: 'effect', name: 'Out of focus', content });
    expect(await json(library(), 'POST', { kind: 'edge', name: 'Wrong', content })).toMatchObject({ status: 422 });
  });

  it('refuses what is no shape, a production that is not there, and another way of asking', async () => {
    expect(await json(library(), 'POST', { ...shape('Sail'), content: { ...curves('Sail'), curves: 'none' } })).toMatchObject({
      status: 422,
      code: 'wrong-field',
    });
    expect(await json(library(), 'POST', { ...shape(''), extra: 1 })).toMatchObject({ status: 422 });
    expect(await json('/productions/nowhere/library', 'POST', shape('Sail'))).toMatchObject({ status: 404 });
    const [{ id }] = await list();
    expect(await json(`${library()}/${id}`, 'POST', {})).toMatchObject({ status: 405 });
  });
});

describe('snapshots of a shot', () => {
  it('are kept with the shot, given back whole, and deleted', async () => {
    const document = await (await fetch(`${instance.address}/shots/${shotId}/document`)).json();
    const path = `/shots/${shotId}/snapshots`;
    const kept = await json(path, 'POST', { name: 'First pass', document });
    expect(await (await fetch(`${instance.address}${path}`)).json()).toEqual([{ id: kept.id, name: 'First pass' }]);
    expect(await (await fetch(`${instance.address}${path}/${kept.id}`)).json()).toEqual(document);
    expect(await json(path, 'POST', { name: 'Nothing', document: {} })).toMatchObject({ status: 422, code: 'not-a-document' });
    expect(await json(path, 'POST', { name: ' ', document })).toMatchObject({ status: 422 });
    expect(await json(`${path}/${kept.id}`, 'DELETE')).not.toMatchObject({ status: 404 });
    expect(await json(`${path}/${kept.id}`, 'DELETE')).toMatchObject({ status: 404 });
    expect(await json('/shots/nowhere/snapshots', 'POST', { name: 'x', document })).toMatchObject({ status: 404 });
  });
});

describe('the shot on which a guide is tried', () => {
  it('is one, however often and fast it is asked for', async () => {
    const ask = () => json('/guides/hand', 'POST');
    const [one, two] = await Promise.all([ask(), ask()]);
    expect(one.shotId).toBeTruthy();
    expect(two.shotId).toBe(one.shotId);
    expect((await ask()).shotId).toBe(one.shotId);
  });

  it('is refused of a guide that there is not', async () => {
    expect(await json('/guides/nothing', 'POST')).toMatchObject({ status: 404, message: 'There is no such guide.' });
  });
});

describe('methods and request lines', () => {
  it('says 405 and what an address takes, for every method that it does not', async () => {
    for (const [where, method, takes] of [
      ['/uploads', 'GET', 'POST'],
      ['/shots/x/carry', 'PUT', 'POST'],
      ['/jobs', 'DELETE', 'GET'],
      ['/shots/x/document', 'PUT', 'GET, POST'],
    ]) {
      const response = await fetch(instance.address + where, { method });
      expect([where, response.status, response.headers.get('allow')]).toEqual([where, 405, takes]);
      expect(await response.json()).toMatchObject({ code: 'wrong-method' });
    }
  });

  it('takes the whole address in a request line as its path, and nothing that is neither', async () => {
    const host = new URL(instance.address).host;
    expect(await rawRequest({ host }, 'GET', `${instance.address}/healthz`)).toMatchObject({ status: 200, body: expect.stringContaining('"database":true') });
    expect((await rawRequest({ host }, 'GET', 'http://elsewhere.example/healthz')).status).toBe(421);
    expect((await rawRequest({ host }, 'OPTIONS', '*')).status).toBe(404);
  });
});
