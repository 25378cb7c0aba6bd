/** Writing a range of frames of all outputs of a task. */
import type { FrameRange } from '../../core/time/ranges.ts';
import type { OutputControl } from './format.ts';
import { formatOf } from './formats/index.ts';
import { writeFrames } from './frame-writer.ts';
import { everyOutput, type OutputTask } from './task.ts';

/** `onProgress` hears of frames of this range. @throws Problem with code "stopped" where the signal asked it to stop */
export const writeRange = (task: OutputTask, range: FrameRange, control: OutputControl): Promise<void> =>
  writeFrames(
    task,
    everyOutput(task).map((one) => formatOf(one.spec).open(one, range)),
    range,
    control,
  );
