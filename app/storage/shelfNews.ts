/** What one tab tells the others about stored scenes. */
export interface ShelfNews {
  what: 'deleted' | 'brought-back';
  sceneId: string;
}

const CHANNEL = 'lusket-shelf';

/** Tells all other tabs. */
export function tellOtherTabs(news: ShelfNews): void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.postMessage(news);
  channel.close();
}

/** Listens to the other tabs for as long as the page is open. */
export function onShelfNews(take: (news: ShelfNews) => void): void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.onmessage = ({ data }: MessageEvent<ShelfNews>) => take(data);
}
