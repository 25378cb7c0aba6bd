/** ./mottrel cli: the same core without a browser, and with a document file without a database. */
import { EditError } from '../core/document/edits.ts';
import { Problem } from '../server/problem.ts';
import { readOptions, WrongCall } from './call.ts';

const HELP = `Without a browser:

  ./mottrel cli ingest FILE [--production NAME] [--name NAME] [--rate 24]
        Brings a video, a still or a zip of a picture sequence in as a shot; prints its id.
  ./mottrel cli matte --shot ID | --document FILE.json [--footage FILE]
        --subject NAME --frames A-B --out DIR [--bits 8|16]
        Writes mattes as PNG. With --document no database is used.
  ./mottrel cli output --shot ID | --document FILE.json --footage FILE
        --kind matte|cutout|composed [--subject NAME] --frames A-B --out DIR
        [--bits 8|16] [--alpha premultiplied|straight] [--no-sound]
        Writes a matte sequence, a cut-out (ProRes 4444) or the composed picture (H.264).
  ./mottrel cli peel --footage FILE --strokes FILE.json [--strokes FILE.json ...] --out DIR
        [--quality draft|fine] [--frames A-B] [--bits 8|16]
        Finds a subject from keep and drop strokes on some frames, carries it to the
        others and writes its mattes, with the doubt of each frame in report.json.
        Frames count from 0: {"version":1,"width":W,"height":H,"frames":N,"strokes":
        [{"frame":0,"mode":"keep"|"drop"|"soft","radius":4,"points":[[x,y], …]}, …]},
        in pixels of the plate.
  ./mottrel cli track --footage FILE --points FILE.json --out RESULT.json
        [--model move|similarity|affine|perspective] [--quality draft|fine]
        Tracks points and a region forwards and backwards from the frame each is on:
        {"version":1,"points":[{"id":"p1","frame":0,"x":X,"y":Y}, …],
        "region":{"frame":0,"polygon":[[x,y], …]}}; either may be missing. Writes
        {"p1":[[frame,x,y,quality], …],"region":[[frame,[[x,y], …],quality], …]}.
  ./mottrel cli document --shot ID --out FILE.json
        Writes the document of a shot.

Frames are numbers as the plate has them. --data DIR names another data directory.
Exit code 0: done. 2: the call or a file is wrong. 1: it failed.`;

/** Runs one command; gives the exit code. */
export async function runCli(args: string[]): Promise<number> {
  const [command = 'help', ...rest] = args;
  try {
    if (command === 'help' || command === '--help') {
      console.log(HELP);
      return 0;
    }
    const { values, positionals } = readOptions(rest);
    switch (command) {
      case 'ingest':
        await (await import('./ingest.ts')).ingestCommand(positionals, values);
        return 0;
      case 'matte':
        await (await import('./output.ts')).matteCommand(values);
        return 0;
      case 'output':
        await (await import('./output.ts')).outputCommand(values);
        return 0;
      case 'peel':
        await (await import('./peel.ts')).peelCommand(values);
        return 0;
      case 'track':
        await (await import('./track.ts')).trackCommand(values);
        return 0;
      case 'document':
        await (await import('./document.ts')).documentCommand(values);
        return 0;
      default:
        throw new WrongCall(`There is no command "${command}".\n\n${HELP}`);
    }
  } catch (error) {
    const { message, code } = error as Error & { code?: string };
    console.error(message);
    const calledWrongly =
      error instanceof WrongCall || error instanceof EditError || code?.startsWith('ERR_PARSE_ARGS') || (error instanceof Problem && error.status < 500);
    return calledWrongly ? 2 : 1;
  }
}
