/** Says on the picture that the footage of this frame is damaged, and what is seen instead. */
import { useView, useWorkbench } from '../state/workbench-context.tsx';

export function DamageNote() {
  const { damage, firstNumber } = useWorkbench().plate;
  const frame = useView((s) => s.readFrame);
  const here = damage.find((d) => d.frame === frame);
  if (!here) return null;
  return (
    <p role="status" className="pointer-events-none absolute top-2 left-2 z-10 max-w-[75%] rounded bg-black/80 px-2.5 py-1.5 text-doubt text-xs">
      Frame {frame + firstNumber} of the footage {here.why}: this is what was chosen to be seen instead.
    </p>
  );
}
