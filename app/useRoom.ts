import { ref, watchEffect } from 'vue';

export type Room = 'dim' | 'even' | 'bright';

export const ROOMS: readonly { value: Room; label: string }[] = [
  { value: 'dim', label: 'Dim' },
  { value: 'even', label: 'Even' },
  { value: 'bright', label: 'Bright' },
];

const STORED = 'lusket.room';
const stored = localStorage.getItem(STORED);
const room = ref<Room>(ROOMS.find(({ value }) => value === stored)?.value ?? 'even');

/** The greys around the picture, kept from visit to visit. */
export function useRoom() {
  watchEffect(() => {
    document.documentElement.dataset.room = room.value;
    localStorage.setItem(STORED, room.value);
  });
  return room;
}
