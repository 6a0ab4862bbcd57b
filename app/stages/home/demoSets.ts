import { z } from 'zod';

const DemoSet = z.object({ name: z.string(), title: z.string(), files: z.array(z.string()) });
export type DemoSet = z.infer<typeof DemoSet>;

/** The demo sets that the server has; none when the application is served without them. */
export async function listDemoSets(): Promise<DemoSet[]> {
  try {
    const answer = await fetch('/api/demo');
    return z.array(DemoSet).parse(await answer.json());
  } catch {
    return [];
  }
}

/** The frames of a demo set as files.
 * @throws {Error} when one cannot be fetched. */
export function fetchDemoFiles({ files }: DemoSet): Promise<File[]> {
  return Promise.all(
    files.map(async (address) => {
      const answer = await fetch(address);
      if (!answer.ok) throw new Error(`${address} is missing; start Lusket again with “npm run demo”`);
      return new File([await answer.blob()], address.split('/').at(-1) as string);
    }),
  );
}
