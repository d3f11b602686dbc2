/** The lines of a long list that are in sight, by TanStack Virtual: only these are drawn. */
import {
  elementScroll,
  observeElementOffset,
  observeElementRect,
  Virtualizer,
  type VirtualItem,
} from '@tanstack/virtual-core';

export class Windowed {
  /** The lines to draw, each with its distance from the top. */
  items = $state.raw<readonly VirtualItem[]>([]);
  /** Height of all lines, in pixels. */
  height = $state(0);
  private readonly virtualizer: Virtualizer<HTMLElement, HTMLElement>;
  private box: HTMLElement | undefined;
  private readonly lineHeight: number;

  constructor(lineHeight: number) {
    this.lineHeight = lineHeight;
    this.virtualizer = new Virtualizer(this.options(0));
  }

  private options(count: number) {
    return {
      count,
      getScrollElement: () => this.box ?? null,
      estimateSize: () => this.lineHeight,
      observeElementRect,
      observeElementOffset,
      scrollToFn: elementScroll,
      overscan: 12,
      onChange: () => this.draw(),
    };
  }

  /** Watches a scrolling box; until the returned function is called. */
  watch(box: HTMLElement): () => void {
    this.box = box;
    const end = this.virtualizer._didMount();
    this.virtualizer._willUpdate();
    this.draw();
    return end;
  }

  /** The list has this many lines now. */
  resize(count: number): void {
    this.virtualizer.setOptions(this.options(count));
    this.virtualizer._willUpdate();
    this.virtualizer.measure();
    this.draw();
  }

  private draw(): void {
    this.items = this.virtualizer.getVirtualItems();
    this.height = this.virtualizer.getTotalSize();
  }

  scrollTo(line: number): void {
    this.virtualizer.scrollToIndex(line, { align: 'auto' });
  }
}
