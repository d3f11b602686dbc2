/**
 * Puts a text on the clipboard; false where the browser refuses. Where a page did not come by TLS there is no clipboard to
 * write to, and what the keys do still works.
 */
export async function copyText(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    return copyAsByKeys(text);
  }
}

function copyAsByKeys(text: string): boolean {
  const fill = (e: ClipboardEvent): void => {
    e.clipboardData?.setData('text/plain', text);
    e.preventDefault();
    // Others on the page copy what is chosen there.
    e.stopImmediatePropagation();
  };
  window.addEventListener('copy', fill, { capture: true });
  // Deprecated, and the only way without TLS.
  const done = document.execCommand('copy');
  window.removeEventListener('copy', fill, { capture: true });
  return done;
}
