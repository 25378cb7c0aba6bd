/** Switches a thing of a list on and off. */
import { Eye, EyeOff } from 'lucide-react';
import { IconButton } from './controls.tsx';

export function EyeSwitch({
  label,
  about,
  on,
  known = true,
  disabled = !known,
  onSwitch,
}: {
  label: string;
  /** What it means that it is off. */
  about: string;
  on: boolean;
  /** What this version does not know is never seen, and cannot be switched. */
  known?: boolean;
  disabled?: boolean;
  onSwitch(): void;
}) {
  return (
    <IconButton label={label} about={about} disabled={disabled} pressed={on} className="!size-6 !border-transparent !bg-transparent" onClick={onSwitch}>
      {on && known ? <Eye /> : <EyeOff />}
    </IconButton>
  );
}
