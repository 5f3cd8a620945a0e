import { run } from './program.ts';

// A pipe that was closed or a disk that is full: what was asked for did not get where it should.
process.stdout.on('error', (error: Error) => {
  console.error(`The output cannot be written: ${error.message}`);
  process.exit(1);
});
process.exitCode = await run(process.argv.slice(2), { print: console.log, warn: console.error });
