/** Hands bytes or text to the person as a file. */
export function saveFile(name: string, content: string | Uint8Array | Blob, type: string): void {
  const part = content instanceof Uint8Array ? new Uint8Array(content) : content;
  const blob = part instanceof Blob ? part : new Blob([part], { type });
  const address = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = address;
  link.download = name.replace(/[\\/:*?"<>|]/g, '_');
  link.click();
  // The browser reads the address after the click has been handled.
  window.setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
