import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApp } from './app.ts';

const folder = mkdtempSync(join(tmpdir(), 'lusket-server-'));
let server: Server;
let address: string;

beforeAll(async () => {
  mkdirSync(join(folder, 'app/assets'), { recursive: true });
  mkdirSync(join(folder, 'demo/tarn'), { recursive: true });
  writeFileSync(join(folder, 'app/index.html'), '<title>Lusket</title>');
  writeFileSync(join(folder, 'app/assets/main.js'), '1');
  writeFileSync(join(folder, 'demo/tarn/truth.json'), JSON.stringify({ title: 'Tarn', frames: [{ file: 'a.jpg' }] }));
  writeFileSync(join(folder, 'demo/tarn/a.jpg'), 'jpeg');
  writeFileSync(join(folder, 'secret.txt'), 'secret');
  server = createServer(createApp({ app: join(folder, 'app'), demo: join(folder, 'demo'), cardSpeed: 2e6 }).callback());
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());

describe('the server', () => {
  it('isolates every answer, so that threads may share memory', async () => {
    for (const path of ['/', '/assets/main.js', '/demo/tarn/a.jpg', '/api/demo', '/demo/none.jpg']) {
      const { headers } = await fetch(address + path);
      expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
      expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
    }
  });

  it('lets no text become code, but in the workers that read and write files', async () => {
    const policyOf = async (path: string) => (await fetch(address + path)).headers.get('content-security-policy') ?? '';
    for (const path of ['/', '/scene/abc/blend', '/assets/main.js', '/assets/backgroundWorker-a/../main.js'])
      expect(await policyOf(path)).not.toContain("'unsafe-eval'");
    expect(await policyOf('/')).toContain("'wasm-unsafe-eval'");
    for (const path of ['/assets/backgroundWorker-Ab_1-x.js', '/assets/vips-es6-D.js'])
      expect(await policyOf(path)).toContain("'unsafe-eval'");
  });

  it('answers the application at every place inside it', async () => {
    for (const path of ['/', '/scene/abc/blend'])
      expect(await (await fetch(address + path)).text()).toContain('Lusket');
    expect((await fetch(`${address}/assets/none.js`)).status).toBe(404);
  });

  it('lists and serves the demo sets', async () => {
    expect(await (await fetch(`${address}/api/demo`)).json()).toEqual([
      { name: 'tarn', title: 'Tarn', files: ['/demo/tarn/a.jpg'] },
    ]);
    expect(await (await fetch(`${address}/demo/tarn/a.jpg`)).text()).toBe('jpeg');
  });

  it('serves nothing outside its folders and takes nothing in', async () => {
    for (const path of [
      '/demo/..%2f..%2fsecret.txt',
      '/demo/%2e%2e/%2e%2e/secret.txt',
      '/assets/..%2f..%2fsecret.txt',
      '/..%2fsecret.txt',
    ]) {
      expect(await (await fetch(address + path)).text()).not.toContain('secret');
    }
    expect((await fetch(`${address}/`, { method: 'POST', body: 'x' })).status).toBe(405);
  });
});

describe('the simulated camera card', () => {
  const json = async (path: string, method = 'GET') => (await fetch(address + path, { method })).json();

  it('has folders and names as cameras write them (DCF: three digits and five characters, four and four)', async () => {
    const { inserted, folders } = await json('/api/card');
    expect(inserted).toBe(true);
    expect(folders).toEqual([{ name: '100TARN_', title: 'Tarn', files: [{ name: 'LSKT0001.JPG', bytes: 4 }] }]);
    const answer = await fetch(`${address}/card/100TARN_/LSKT0001.JPG`);
    expect([answer.headers.get('content-length'), await answer.text()]).toEqual(['4', 'jpeg']);
    expect((await fetch(`${address}/card/100TARN_/../../secret.txt`)).status).not.toBe(410);
    expect((await fetch(`${address}/card/100TARN_/LSKT0009.JPG`)).status).toBe(404);
  });

  it('is read as fast as a card is, and no faster', async () => {
    writeFileSync(join(folder, 'demo/tarn/a.jpg'), Buffer.alloc(1e6, 7));
    const since = Date.now();
    const bytes = await (await fetch(`${address}/card/100TARN_/LSKT0001.JPG`)).arrayBuffer();
    expect(bytes.byteLength).toBe(1e6);
    expect(Date.now() - since).toBeGreaterThan(400);
  });

  it('can be pulled out in the middle of a file, and put back', async () => {
    const answer = await fetch(`${address}/card/100TARN_/LSKT0001.JPG`);
    const reading = answer.arrayBuffer();
    expect(await json('/api/card/pull', 'POST')).toEqual({ inserted: false });
    await expect(reading).rejects.toThrow();
    expect((await fetch(`${address}/card/100TARN_/LSKT0001.JPG`)).status).toBe(410);
    expect(await json('/api/card')).toEqual({ inserted: false, folders: [] });
    expect((await fetch(`${address}/api/card/pull`)).status).toBe(405);
    await json('/api/card/insert', 'POST');
    expect((await json('/api/card')).inserted).toBe(true);
  });
});
