/** The document of a shot as a file, out and in. */
import { useId, useRef } from 'react';
import { toast } from 'sonner';
import { send } from '../state/send.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { FileInput } from '../ui/file-input.tsx';

export function DocumentFile() {
  const { shotId } = useShotStore().getState();
  const { plate } = useWorkbench();
  const input = useRef<HTMLInputElement>(null);
  const id = useId();
  const bringIn = async (file: File) => {
    try {
      const value: unknown = JSON.parse(await file.text());
      await send(`/shots/${shotId}/document`, { body: value });
      const other = (value as { plate?: { frames?: number } }).plate?.frames;
      const note = other !== undefined && other !== plate.frames ? ` It was made for ${other} frames; this shot has ${plate.frames}.` : '';
      toast(`The document was brought in. Undo takes it back.${note}`);
    } catch (error) {
      toast.error(error instanceof SyntaxError ? `"${file.name}" is not a JSON file.` : (error as Error).message);
    }
  };
  return (
    <section aria-labelledby={id} className="border-line border-t px-3 py-3">
      <h3 id={id} className="pb-2 font-semibold text-xs">
        Document of this shot
      </h3>
      <div className="flex gap-2">
        <a
          className="inline-flex h-7 items-center rounded border border-line bg-raised px-2.5 text-sm hover:border-edge"
          href={`/shots/${shotId}/document`}
          download
        >
          Export JSON
        </a>
        <Button onClick={() => input.current?.click()}>Import JSON …</Button>
        <FileInput input={input} label="Document file" accept="application/json,.json" onFiles={([file]) => void bringIn(file)} />
      </div>
    </section>
  );
}
