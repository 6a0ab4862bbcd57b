import { defineStore } from 'pinia';
import { ref } from 'vue';
import { DecodeError } from '#codecs/decodeError.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { type Frame, sceneSize } from '#core/scene/scene.ts';
import { Lane } from '#engine/lanes.ts';
import { getFile, putFile } from '../storage/sceneShelf.ts';
import { sayError } from '../wording.ts';
import { useEngine } from './engine.ts';
import { useSession } from './session.ts';

export interface Refusal {
  name: string;
  reason: string;
}

/** Reading files into frames, with progress. */
export const useFrames = defineStore('frames', () => {
  const engines = useEngine();
  const session = useSession();

  /** Files under way: how many, how many done, and the share of the one being read. */
  const reading = ref<{ total: number; done: number; share: number; name: string }>();
  /** Files that did not become frames, until the user has seen them. */
  const refused = ref<Refusal[]>([]);
  /** Counts up whenever pixels have arrived. */
  const arrivals = ref(0);

  /** Reads files and takes those that fit into the scene. A file that fails leaves the others alone. */
  async function take(files: readonly File[]): Promise<void> {
    if (files.length === 0) return;
    const { codec } = await engines.start();
    const frames: Frame[] = [];
    const drag = crypto.randomUUID();
    reading.value = { total: files.length, done: 0, share: 0, name: files[0].name };
    let stopped = false;
    for (const file of files) {
      if (stopped) break;
      const now = reading.value;
      now.name = file.name;
      now.share = 0;
      try {
        const expect = sceneSize(session.scene);
        const frame = await codec.load(
          file,
          file.name,
          expect && { width: expect.width, height: expect.height },
          (share) => {
            now.share = share;
          },
        );
        if (session.scene.frames.some(({ id }) => id === frame.id)) {
          refuse(file.name, 'This frame is in the scene already.');
        } else {
          await putFile(frame.file.sha256, file);
          frames.push(frame);
          session.dispatch(addFrames({ frames: [...frames] }), drag);
          arrivals.value++;
        }
      } catch (error) {
        stopped = error instanceof DecodeError && error.code === 'cancelled';
        if (!stopped) refuse(file.name, sayError(error));
      }
      now.done++;
    }
    reading.value = undefined;
    session.closeDrag();
  }

  /** Brings the pixels of a stored scene back. */
  async function reload(frames: readonly Frame[]): Promise<void> {
    const { codec } = await engines.start();
    reading.value = { total: frames.length, done: 0, share: 0, name: '' };
    for (const { file, width, height } of frames) {
      const now = reading.value;
      now.name = file.name;
      now.share = 0;
      try {
        const blob = await getFile(file.sha256);
        if (!blob) throw new DecodeError('damaged', 'it is no longer stored in this browser');
        await codec.load(blob, file.name, { width, height }, (share) => {
          now.share = share;
        });
      } catch (error) {
        refuse(file.name, sayError(error));
      }
      now.done++;
      arrivals.value++;
    }
    reading.value = undefined;
    arrivals.value++;
  }

  /** Frees the pixels of frames that are no longer open. */
  async function drop(frames: readonly Frame[]): Promise<void> {
    const { codec } = await engines.start();
    await Promise.all(frames.map(({ file, width, height }) => codec.drop(file.sha256, { width, height })));
  }

  /** Stops reading. Frames that are in already stay. */
  function stop(): void {
    engines.running?.engine.advance(Lane.Load);
  }

  function refuse(name: string, reason: string): void {
    refused.value = [...refused.value, { name, reason }];
  }

  return {
    reading,
    refused,
    arrivals,
    take,
    reload,
    drop,
    stop,
    forget: () => {
      refused.value = [];
    },
  };
});
