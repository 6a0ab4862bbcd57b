// Compiles the kernels, unless what is there was compiled from the same sources.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const SOURCES = 'core/assembly';
const OUT = `${SOURCES}/build/kernels.wasm`;
const STAMP = 'node_modules/.lusket-kernels';

const optimised = ['-O3', '--noAssert', '--runtime', 'stub'];
const memory = ['--importMemory', '--sharedMemory', '--initialMemory', '512', '--maximumMemory', '65536'];
const features = ['--enable', 'threads', '--enable', 'simd'];
const args = [`${SOURCES}/index.ts`, '-o', OUT, ...optimised, ...memory, ...features];

const { version } = JSON.parse(readFileSync('node_modules/assemblyscript/package.json', 'utf8'));
const digest = createHash('sha256').update([version, ...args].join('\0'));
for (const name of readdirSync(SOURCES).sort())
  if (name.endsWith('.ts')) digest.update(name).update(readFileSync(join(SOURCES, name)));
const wanted = digest.digest('hex');
const isThere = () => existsSync(OUT) && existsSync(STAMP);
const stampOf = () => `${wanted} ${createHash('sha256').update(readFileSync(OUT)).digest('hex')}`;

if (!isThere() || readFileSync(STAMP, 'utf8') !== stampOf()) {
  mkdirSync(`${SOURCES}/build`, { recursive: true });
  // Loaded only now: the compiler is large.
  const { default: asc } = await import('assemblyscript/asc');
  const { error, stderr } = await asc.main(args);
  if (error) {
    console.error(`${stderr}${error.message}`);
    process.exit(1);
  }
  writeFileSync(STAMP, stampOf());
}
