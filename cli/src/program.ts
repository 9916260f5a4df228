import { Command, CommanderError } from 'commander';
import { CHANGE_LIST_SCHEMA, PLAN_SCHEMA } from '@zesty-crow/core';
import { applyCommand } from './commands/apply.ts';
import { convertCommand } from './commands/convert.ts';
import { gatherCommand } from './commands/gather.ts';
import { inspectCommand } from './commands/inspect.ts';
import { maskCommand } from './commands/mask.ts';
import { packCommand } from './commands/pack.ts';
import { planCommand } from './commands/plan.ts';
import { renderCommand } from './commands/render.ts';
import { CommandError } from './fail.ts';

const FRAME = ['--frame <number>', 'frame of a sequence (the first)'] as const;
const STRICT = [
  '--strict',
  'end with exit code 3, before anything is written, if something is missing that is asked for',
] as const;
const VARIANT = ['--variant <name>', 'with --changes: the values of one of its variants'] as const;
const INTERPRETATION = ['--interpretation <file>', 'masks and more, as the interface saves them'] as const;

/** A program of its own for each call: it remembers the options of the last one. */
function commands(): Command {
  const program = new Command('zesty-crow')
    .description('Inspect ID passes, make masks, apply change lists and render, without the interface.')
    .exitOverride()
    .configureOutput({ outputError: (text, write) => write(text.replace(/^error: /, '')) });

  program
    .command('inspect <files...>')
    .description('group files into versions, and tell what is in them')
    .option('--json', 'print JSON')
    .action(inspectCommand);
  program
    .command('mask <files...>')
    .description('write the mask of some members, of channels, or of a change, as one channel Y')
    .option('--layer <name>', 'ID layer, for example CryptoObject')
    .option('--with <patterns...>', 'names, globs over names, or id:xxxxxxxx')
    .option('--without <patterns...>', 'members to leave out')
    .option('--channels <names...>', 'in place of members: channels, added up')
    .option('--changes <file>', 'in place of members: a change list as exported by the interface')
    .option('--change <name>', 'with --changes: the words or the id of the change whose mask is wanted')
    .option(...VARIANT)
    .option('--from <value>', 'where the channels give nothing (0)')
    .option('--to <value>', 'where the channels give all (1)')
    .option(...FRAME)
    .option(...INTERPRETATION)
    .requiredOption('--out <file>', 'target, .exr or .png')
    .action(maskCommand);
  program
    .command('apply <files...>')
    .description('apply a change list')
    .option(...FRAME)
    .option(...INTERPRETATION)
    .requiredOption('--changes <file>', 'change list as exported by the interface')
    .option(...VARIANT)
    .requiredOption('--out <file>', 'target, .exr or .png')
    .option('--depth <bits>', 'bits of a PNG: 8 or 16 (default 16)')
    .option('--half', 'the picture of an EXR in 16-bit half (otherwise as in the source)')
    .option(
      '--pictures <folder>',
      'where picture files are that the changes lay into the picture (beside the list)',
    )
    .option(...STRICT)
    .action(applyCommand);
  program
    .command('pack <files...>')
    .description('make parcels as the interface does, of all their frames')
    .requiredOption('--parcels <file>', 'list of parcels as kept with a shot')
    .requiredOption('--out <folder>', 'where their files go, with a manifest of their sums')
    .option('--changes <file>', 'change list as exported by the interface (none)')
    .option('--only <title>', 'only the parcel of this title')
    .option('--shot <name>', 'name of the shot, for file names (the name of the files)')
    .option('--scene <file>', 'the scene they were rendered from, for camera, lights and places')
    .option('--plan <file>', 'with --scene: the plan they were rendered by')
    .option(...INTERPRETATION)
    .option(
      '--pictures <folder>',
      'where picture files are that the changes lay into the picture (beside the list)',
    )
    .option('--frame <number>', 'only this frame; of a single file: its number, in place of that in its name')
    .option(...STRICT)
    .action(packCommand);
  program
    .command('convert <files...>')
    .description('read a picture, several files of one, or a folder, and write it as EXR: the last name')
    .option(...FRAME)
    .option(...INTERPRETATION)
    .option('--part <number>', 'only this part of a file of several, from 1 on')
    .option('--channels <names...>', 'only these channels')
    .option('--compression <name>', 'none, rle, zips, zip or piz')
    .option('--slim', 'cryptomattes with only the ranks and bits that they need')
    .option(
      '--as <form>',
      'ID layers in another form: cryptomatte, object-buffers, puzzle-mattes, number-pass, flat-colour',
    )
    .option('--layers <names...>', 'with --slim and --as: only these ID layers')
    .option('--with <patterns...>', 'with --as: only members of these names')
    .option('--numbers <file>', 'with --as: JSON, numbers of members by name')
    .action(convertCommand);
  program
    .command('gather <files...>')
    .description('put the passes of a frame into one file in which every ID pass is a cryptomatte')
    .option('--roles <file>', 'JSON: what files are that no name tells, by file name')
    .option('--json', 'print what each file has become')
    .requiredOption('--out <file>', 'target, .exr; of a sequence each frame, with its number')
    .action(gatherCommand);
  program
    .command('render <scene>')
    .description('render a .glb or .gltf scene with its ID passes')
    .requiredOption('--out <target>', 'a folder, or for a single frame in one file a name ending in .exr')
    .option('--plan <file>', 'ID plan as exported by the interface; otherwise picture and both cryptomattes')
    .option('--frames <range>', 'a frame or a range such as 1-12; the plan says otherwise')
    .option('--width <pixels>', 'width of the picture (the plan, or 960)')
    .option('--height <pixels>', 'height of the picture (the plan, or 540)')
    .option('--samples <count>', 'done after so many samples a pixel (the plan, or 64)')
    .option('--minutes <count>', 'done after so many minutes a frame')
    .option('--noise <percent>', 'done when 95 % of the pixels have at most this noise')
    .option('--seed <number>', 'seed of the sampling pattern (the plan, or 0)')
    .option('--threads <count>', 'threads to use (all cores by default)')
    .option('--ids-only', 'ID and data passes without light')
    .action(renderCommand);
  program
    .command('plan <scene>')
    .description('propose the passes that serve some wishes, and tell what they cost')
    .requiredOption('--wishes <file>', 'JSON list of wishes, or a plan')
    .option('--json', 'print the plan and its cost as JSON')
    .action(planCommand);
  program
    .command('schema <what>')
    .description('print the JSON schema of a plan or of a change list')
    .action((what: string) => {
      const schema = { plan: PLAN_SCHEMA, changes: CHANGE_LIST_SCHEMA }[what];
      if (!schema) throw new CommandError('There is a schema of a "plan" and of "changes".');
      process.stdout.write(`${JSON.stringify(schema, null, 2)}\n`);
    });
  return program;
}

/** Whether an error is a fault of this program: what it says on purpose has a class of its own. */
const isFault = (error: unknown): boolean =>
  !(error instanceof Error) ||
  [Error, TypeError, RangeError, ReferenceError, SyntaxError].some((own) => error.constructor === own);

/**
 * Does what a command line says; what it prints goes to this process's standard output and standard error.
 * @param args without the program's own name
 * @returns the exit code: 0, or one line that says what is wrong and 1, or 3 for what `--strict` does not go on without
 */
export async function runProgram(args: readonly string[]): Promise<number> {
  try {
    await commands().parseAsync(args, { from: 'user' });
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 1;
    const message = error instanceof Error ? error.message : String(error);
    process.stderr.write(`${isFault(error) ? 'Unexpected: ' : ''}${message.replace(/\s*\n\s*/g, ' ')}\n`);
    return error instanceof CommandError ? error.exitCode : 1;
  }
}
