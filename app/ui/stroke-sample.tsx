/** A short piece of a stroke as it is drawn: keep and drop differ by their line as well as by colour. */
export function StrokeSample({ kind }: { kind: 'keep' | 'drop' }) {
  return (
    <svg viewBox="0 0 22 6" className="h-1.5 w-5.5 shrink-0" aria-hidden>
      <line
        x1="0"
        x2="22"
        y1="3"
        y2="3"
        strokeWidth="4"
        className={kind === 'keep' ? 'stroke-keep' : 'stroke-drop'}
        strokeDasharray={kind === 'keep' ? undefined : '4 3'}
      />
    </svg>
  );
}
