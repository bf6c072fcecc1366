/** Hands a text to the browser as a download. */
export const saveFile = (name: string, type: string, text: string): void => saveBlob(name, new Blob([text], { type }));

/** The same for anything. */
export function saveBlob(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** Has the browser fetch an address as a download: it shows how far it is, and nothing of it is held in memory here. */
export function saveFrom(address: string): void {
  const a = document.createElement('a');
  a.href = address;
  a.download = '';
  a.click();
}
