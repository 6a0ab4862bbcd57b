/** Hands a file to the browser's downloads. */
export function download(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  // The browser takes the data a moment later.
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
