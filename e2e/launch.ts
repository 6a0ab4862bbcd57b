import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync } from 'node:fs';

/** Debian's Chromium, or undefined when there is none. */
export const CHROMIUM = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find(existsSync);

export const FLAGS = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Serves the built application on a free port. */
export function startServer(options: readonly string[] = []): Promise<{ server: ChildProcess; address: string }> {
  const server = spawn(process.execPath, ['dist/node/server.mjs', '--port', '0', ...options], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  return new Promise((resolve, reject) => {
    server.once('exit', (code) => reject(new Error(`The server ended with ${code}; is it built?`)));
    server.stdout.on('data', (data) => {
      const address = /http:\S+(?=\/)/.exec(String(data))?.[0];
      if (address) resolve({ server, address });
    });
  });
}
