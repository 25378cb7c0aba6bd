/** Sending footage: its files one after the other, with progress, to be cancelled at any time. */
import { Away, Refused, send } from './send.ts';

export interface UploadProgress {
  sent: number;
  total: number;
  /** While it waits: how many uploads of this page go before it. */
  ahead?: number;
  /** At the speed so far, once that can be told. */
  secondsLeft?: number | null;
}

/** Uploads at a time: more would only be slower each, and a browser opens few connections. */
const AT_ONCE = 2;
/** Those that run or wait, first come first. */
const line: { go(): void; told(ahead: number): void }[] = [];

/** Waits for a place, telling how many are before it. Gives what frees the place again. */
async function placeInLine(told: (ahead: number) => void, signal: AbortSignal): Promise<() => void> {
  return new Promise((resolve, reject) => {
    const own = { told, go: () => resolve(leave) };
    const leave = () => {
      const at = line.indexOf(own);
      if (at < 0) return;
      line.splice(at, 1);
      // Whoever has moved up to the front goes.
      if (at < AT_ONCE) line[AT_ONCE - 1]?.go();
      for (const [i, waiting] of line.slice(AT_ONCE).entries()) waiting.told(i + AT_ONCE);
    };
    signal.addEventListener('abort', () => {
      leave();
      reject(new DOMException('Cancelled', 'AbortError'));
    });
    line.push(own);
    if (line.length <= AT_ONCE) own.go();
    else told(line.length - 1);
  });
}

/** Puts one file with progress, which fetch cannot tell. */
function put(url: string, file: File, onSent: (bytes: number) => void, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('PUT', url);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.upload.onprogress = (e) => onSent(e.loaded);
    request.onload = () => {
      if (request.status < 300) return resolve();
      try {
        const { code, message } = JSON.parse(request.responseText) as { code: string; message: string };
        reject(new Refused(code, message));
      } catch {
        reject(new Away());
      }
    };
    request.onerror = () => reject(new Away());
    request.onabort = () => reject(new DOMException('Cancelled', 'AbortError'));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}

/** Sends the files as one shot of `productionId`. Throws Refused, Away, or an AbortError after `signal`. */
export async function uploadShot(
  productionId: string,
  files: File[],
  rate: string,
  onProgress: (p: UploadProgress) => void,
  signal: AbortSignal,
): Promise<{ shotId: string; plateId: string; notes: string[]; alpha: boolean }> {
  const total = files.reduce((sum, f) => sum + f.size, 0);
  const leave = await placeInLine((ahead) => onProgress({ sent: 0, total, ahead }), signal);
  try {
    return await sendFiles(productionId, files, rate, total, onProgress, signal);
  } finally {
    leave();
  }
}

async function sendFiles(
  productionId: string,
  files: File[],
  rate: string,
  total: number,
  onProgress: (p: UploadProgress) => void,
  signal: AbortSignal,
): Promise<{ shotId: string; plateId: string; notes: string[]; alpha: boolean }> {
  const began = performance.now();
  const tell = (sent: number) => {
    const seconds = (performance.now() - began) / 1000;
    onProgress({ sent, total, secondsLeft: sent > 0 && seconds > 0.5 ? Math.ceil(((total - sent) * seconds) / sent) : null });
  };
  tell(0);
  const { uploadId } = await send<{ uploadId: string }>('/uploads', { method: 'POST', signal });
  let before = 0;
  try {
    for (const [i, file] of files.entries()) {
      await put(`/uploads/${uploadId}/${i}?name=${encodeURIComponent(file.name)}`, file, (bytes) => tell(before + bytes), signal);
      before += file.size;
      tell(before);
    }
    return await send(`/uploads/${uploadId}`, { body: { productionId, rate }, signal });
  } catch (error) {
    void fetch(`/uploads/${uploadId}`, { method: 'DELETE' }).catch(() => {});
    throw error;
  }
}
