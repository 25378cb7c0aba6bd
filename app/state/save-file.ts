/** A file as it goes out of the browser. */
export interface FileToSave {
  name: string;
  content: string | Uint8Array<ArrayBuffer>;
}

/** Hands a file to the browser to be saved. */
export function saveFile({ content, name }: FileToSave): void {
  const type = name.endsWith('.svg') ? 'image/svg+xml' : name.endsWith('.zip') ? 'application/zip' : 'application/json';
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
