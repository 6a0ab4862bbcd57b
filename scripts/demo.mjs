// Installs, builds, makes the demo frames if missing, and starts Lusket. Node's own modules only, until all is there.
import { existsSync } from 'node:fs';
import { ensureDependencies, run, start } from './steps.mjs';

ensureDependencies();
run('Building', 'npm', ['run', '--silent', 'build']);
if (!existsSync('demo/frames/tarn/truth.json')) {
  run('Making the demo frames', 'node', ['dist/node/demo.mjs', '--out', 'demo/frames'], { stdio: 'inherit' });
}
start('node', ['dist/node/server.mjs', ...process.argv.slice(2)]);
