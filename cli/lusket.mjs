#!/usr/bin/env node
import { existsSync } from 'node:fs';

const built = new URL('../dist/node/cli.mjs', import.meta.url);
if (!existsSync(built)) {
  console.error('Lusket is not built yet: run `npm run build` first.');
  process.exit(2);
}
await import(built.href);
