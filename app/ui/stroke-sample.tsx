const LOOKS = {
  keep: { colour: 'stroke-keep', dash: undefined },
  drop: { colour: 'stroke-drop', dash: '4 3' },
  soft: { colour: 'stroke-soft', dash: '9 4' },
  loop: { colour: 'stroke-keep', dash: '9 3 2 3' },
} as const;

/** A short piece of a stroke as it is drawn: kinds differ by their line as well as by colour. */
export function StrokeSample({ kind }: { kind: keyof typeof LOOKS }) {
  return (
    <svg viewBox="0 0 22 6" className="h-1.5 w-5.5 shrink-0" aria-hidden>
      <line x1="0" x2="22" y1="3" y2="3" strokeWidth="4" className={LOOKS[kind].colour} strokeDasharray={LOOKS[kind].dash} />
    </svg>
  );
}
