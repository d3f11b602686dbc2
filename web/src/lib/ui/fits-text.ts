/** An action: a textarea as high as the text that stands in it, also in browsers that do not size it so by themselves. */
export function fitsText(node: HTMLTextAreaElement, _text: string) {
  const fit = () => {
    if (CSS.supports('field-sizing', 'content')) return;
    node.style.height = 'auto';
    node.style.height = `${node.scrollHeight}px`;
  };
  fit();
  node.addEventListener('input', fit);
  return { update: fit };
}
