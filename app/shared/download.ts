/** Hands a file to the person: the browser's own download. */
export function download(name: string, content: Uint8Array | string, type = 'application/octet-stream'): void {
  const part = typeof content === 'string' ? content : new Uint8Array(content);
  const url = URL.createObjectURL(new Blob([part], {type}));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The click has taken the address by the next turn of the event loop.
  setTimeout(() => URL.revokeObjectURL(url), 1000);
}
