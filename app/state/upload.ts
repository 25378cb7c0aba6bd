/** Sending footage: its files one after the other, with progress, to be cancelled at any time. */
import { Away, Refused, send } from './send.ts';

export interface UploadProgress {
  sent: number;
  total: number;
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
  const { uploadId } = await send<{ uploadId: string }>('/uploads', { method: 'POST', signal });
  let before = 0;
  try {
    for (const [i, file] of files.entries()) {
      await put(`/uploads/${uploadId}/${i}?name=${encodeURIComponent(file.name)}`, file, (bytes) => onProgress({ sent: before + bytes, total }), signal);
      before += file.size;
      onProgress({ sent: before, total });
    }
    return await send(`/uploads/${uploadId}`, { body: { productionId, rate }, signal });
  } catch (error) {
    void fetch(`/uploads/${uploadId}`, { method: 'DELETE' }).catch(() => {});
    throw error;
  }
}
