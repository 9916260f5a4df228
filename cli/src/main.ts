import { runProgram } from './program.ts';

const code = await runProgram(process.argv.slice(2));
// A call that failed ends at once, whatever is still under way.
if (code !== 0) process.exit(code);
