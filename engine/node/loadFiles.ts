import type { VipsModule } from '#codecs/vipsModule.ts';
import type { LoadingDesk } from '#core/render/loadFrame.ts';
import type { Frame } from '#core/scene/scene.ts';
import { type LoadOptions, loadFrameBytes, sha256Of } from '../loadFrameBytes.ts';

/** A file and how to come by its bytes. */
export interface FileToLoad {
  name: string;
  read: () => Promise<Uint8Array<ArrayBuffer>>;
}

/** Loads files one after the other, in the calling thread; the next one is read and hashed while one is decoded.
 * @throws {DecodeError} of the first that fails. */
export async function loadFiles(
  vips: VipsModule,
  desk: LoadingDesk,
  files: readonly FileToLoad[],
  options: Pick<LoadOptions, 'expect'> & { onProgress?: (name: string, share: number) => void } = { expect: undefined },
): Promise<Frame[]> {
  const frames: Frame[] = [];
  const prepare = async (file: FileToLoad | undefined) => {
    const bytes = await file?.read();
    return bytes && { bytes, sha256: sha256Of(bytes) };
  };
  let next = prepare(files[0]);
  for (const [index, { name }] of files.entries()) {
    const { bytes, sha256 } = (await next) as NonNullable<Awaited<typeof next>>;
    next = prepare(files[index + 1]);
    // Let it begin: decoding leaves this thread no turn.
    await Promise.all([sha256, files[index + 1] && next]);
    const onProgress = (share: number) => options.onProgress?.(name, share);
    frames.push(
      await loadFrameBytes(vips, desk, bytes, {
        name,
        expect: options.expect,
        sha256,
        onProgress,
        isCancelled: () => false,
      }),
    );
  }
  return frames;
}
