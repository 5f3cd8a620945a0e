/** Hands bytes or text to the person as a file. */
export function saveFile(name: string, content: string | Uint8Array, type: string): void {
  const blob = new Blob([typeof content === 'string' ? content : new Uint8Array(content)], { type });
  const address = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = address;
  link.download = name.replace(/[\\/:*?"<>|]/g, '_');
  link.click();
  // The browser reads the address after the click has been handled.
  window.setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
