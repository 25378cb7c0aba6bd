import type { RefObject } from 'react';

/** What a button opens to choose files by; it is not seen itself. The same file can be chosen once more. */
export function FileInput(props: {
  input: RefObject<HTMLInputElement | null>;
  label: string;
  accept?: string;
  multiple?: boolean;
  onFiles(files: File[]): void;
}) {
  const { input, label, accept, multiple, onFiles } = props;
  return (
    <input
      ref={input}
      type="file"
      accept={accept}
      multiple={multiple}
      className="sr-only"
      tabIndex={-1}
      aria-label={label}
      onChange={(e) => {
        const files = [...(e.target.files ?? [])];
        e.target.value = '';
        if (files.length > 0) onFiles(files);
      }}
    />
  );
}
