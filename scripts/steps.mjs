// What the scripts share: running a step and saying how it went. Node's own modules only.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';

const STAMP = 'node_modules/.lusket-installed';

/** Runs a command to its end; on failure prints its output and ends this process. */
export function run(title, command, args, options = {}) {
  process.stdout.write(`${title}... `);
  const since = Date.now();
  const result = spawnSync(command, args, { encoding: 'utf8', maxBuffer: 1 << 28, ...options });
  const seconds = ((Date.now() - since) / 1000).toFixed(1);
  console.log(result.status === 0 ? `done (${seconds} s)` : `failed (${seconds} s)`);
  if (result.status !== 0) {
    console.error(`${result.stdout ?? ''}${result.stderr ?? ''}${result.error ?? ''}`);
    process.exit(1);
  }
  return result;
}

/** Runs a command in the foreground, passing on its output and the signals that end it. */
export function start(command, args) {
  const child = spawn(command, args, { stdio: 'inherit' });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
  child.on('exit', (code) => process.exit(code ?? 0));
}

/** Installs packages when they are missing or the lock file has changed. */
export function ensureDependencies() {
  const lock = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock) return;
  run('Installing packages', 'npm', ['ci', '--no-audit', '--no-fund']);
  writeFileSync(STAMP, lock);
}
