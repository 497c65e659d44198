import { runCli } from './program';

const { code, out, err } = await runCli(process.argv.slice(2));
process.stderr.write(err);
process.stdout.write(out, () => {
  process.exitCode = code;
});
