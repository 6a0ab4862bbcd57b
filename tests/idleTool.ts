/** What a tool on the canvas works with, where nothing comes of it. */
export const idleTool = {
  perPixel: () => 2,
  preview: () => undefined,
  commit: () => undefined,
  closeDrag: () => undefined,
  end: () => undefined,
};
