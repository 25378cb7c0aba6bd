import { Download, RotateCcw, Upload, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { clashOf, clearKeys, keysFile, keysWords, openKeyMap, pressedKeys, resetKeys, setKeys, takeKeysFile, useKeyMap, wordsOf } from '../state/key-map.ts';
import { saveFile } from '../state/save-file.ts';
import { SHORTCUT, SHORTCUTS, VIEWER_KEYS } from '../state/shortcuts.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { FileInput } from '../ui/file-input.tsx';
import { PageFrame } from '../ui/page-frame.tsx';
import type { Route } from './+types/shortcuts';

export const meta: Route.MetaFunction = () => [{ title: 'Keyboard shortcuts – Mottrel' }];

export default function Shortcuts() {
  useEffect(openKeyMap, []);
  const own = useKeyMap();
  const changed = Object.keys(own).length > 0;
  const file = useRef<HTMLInputElement>(null);
  const take = async (picked: File) => {
    try {
      takeKeysFile(await picked.text());
      toast.success(`The shortcuts of "${picked.name}" hold now.`);
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  return (
    <PageFrame trail={[{ label: 'Productions', to: '/' }, { label: 'Keyboard shortcuts' }]}>
      <div className="mb-5 flex flex-wrap items-center gap-2">
        <h1 className="flex-1 font-semibold text-xl">Keyboard shortcuts</h1>
        <Button disabled={!changed} onClick={() => resetKeys()}>
          <RotateCcw className="size-4" aria-hidden /> All as they came
        </Button>
        <Button onClick={() => saveFile({ name: 'mottrel-shortcuts.json', content: keysFile() })}>
          <Download className="size-4" aria-hidden /> Write out
        </Button>
        <Button onClick={() => file.current?.click()}>
          <Upload className="size-4" aria-hidden /> Read in
        </Button>
        <FileInput input={file} label="File of shortcuts" accept="application/json,.json" onFiles={([chosen]) => void take(chosen)} />
      </div>
      <p className="mb-5 text-quiet text-sm">Press the keys of a command to change them. They are kept in this browser.</p>
      <div className="columns-1 gap-10 md:columns-2">
        {SHORTCUTS.map(({ group, items }) => (
          <section key={group} className="mb-6 break-inside-avoid">
            <h2 className="mb-1 font-semibold text-sm">{group}</h2>
            <ul className="divide-y divide-line text-sm">
              {Object.entries(items).map(([id, { does }]) => (
                <KeyRow key={id} id={id} does={does} words={wordsOf(own, id)} changed={id in own} />
              ))}
            </ul>
          </section>
        ))}
        <section className="mb-6 break-inside-avoid">
          <h2 className="mb-1 font-semibold text-sm">In the viewer, while it has the focus</h2>
          <dl className="divide-y divide-line text-sm">
            {VIEWER_KEYS.map(([keys, does]) => (
              <div key={keys + does} className="flex gap-4 py-1.5">
                <dt className="w-36 shrink-0 font-mono text-xs leading-5">{keys}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      </div>
      <p className="text-quiet text-sm">
        On a Mac, Ctrl is the command key. In the Sheet, Down and Up go to the next frame and the one before; in the Ribbon, Left and Right do.
      </p>
    </PageFrame>
  );
}

/** Keys that the viewer's tools take first, whatever is bound to them. */
const OF_TOOLS = ['a', 'p', 't', 'x', '-', '+', 'Enter', 'Backspace', 'Delete', 'Escape'];

function KeyRow({ id, does, words, changed }: { id: string; does: string; words: string; changed: boolean }) {
  const own = useKeyMap();
  const [taking, setTaking] = useState(false);
  const [clash, setClash] = useState<string | null>(null);
  const other = clash ? clashOf(own, id, clash) : null;
  const press = (event: React.KeyboardEvent) => {
    if (!taking) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === 'Escape' || event.key === 'Tab') return setTaking(false);
    const keys = pressedKeys(event.nativeEvent);
    if (!keys) return;
    setTaking(false);
    if (clashOf(own, id, keys)) return setClash(keys);
    setKeys(id, keys);
    if (OF_TOOLS.includes(keys)) toast(`Tools of the viewer take ${keysWords(keys)} themselves while they can use it.`);
  };
  return (
    <li className="py-1">
      <div className="group flex items-center gap-4">
        <button
          type="button"
          aria-label={`Keys of "${does}": ${words || 'none'}. Press to change them`}
          className="w-36 shrink-0 rounded border border-transparent px-1 text-left font-mono text-xs leading-6 hover:border-line"
          onClick={() => {
            setClash(null);
            setTaking(true);
          }}
          onKeyDown={press}
          onBlur={() => setTaking(false)}
        >
          {taking ? <span className="text-keep">press keys …</span> : words || <span className="text-quiet">none</span>}
        </button>
        <span className="min-w-0 flex-1">{does}</span>
        {changed && (
          <IconButton label={`As it came: ${does}`} about="Gives this command the keys that it has at first." className="!size-6" onClick={() => resetKeys(id)}>
            <RotateCcw />
          </IconButton>
        )}
        {words && (
          <IconButton
            label={`No keys for: ${does}`}
            about="It stays in the command list."
            className="!size-6 opacity-0 focus-visible:opacity-100 group-hover:opacity-100"
            onClick={() => clearKeys(id)}
          >
            <X />
          </IconButton>
        )}
      </div>
      {clash && other && (
        <p role="alert" className="mt-1 flex flex-wrap items-center gap-2 rounded border border-doubt px-2 py-1 text-xs">
          <span className="min-w-0 flex-1">
            {keysWords(clash)} is taken by "{SHORTCUT[other].does}".
          </span>
          <Button
            className="!h-6 text-xs"
            onClick={() => {
              setKeys(id, clash);
              setClash(null);
            }}
          >
            Take it from there
          </Button>
          <Button className="!h-6 text-xs" onClick={() => setClash(null)}>
            Leave it
          </Button>
        </p>
      )}
    </li>
  );
}
