/** What is done with the stops of a ruler: dragged, moved by keys, handed from one band to the other. */
import type { Band } from '@rigid-rule/core/compile';
import { uniqueId } from '$lib/unique-id.ts';
import { dragStep, type RulerLayout, type RulerStop } from '../../parts/ruler-layout.ts';

interface Surroundings {
  readonly bands: () => readonly Band[];
  /** As the bands are now. */
  readonly live: () => RulerLayout;
  /** The smallest step of what decides. */
  readonly finest: () => number;
  /** Moves of one `group` are one act, to be undone at once. */
  readonly move: (stop: RulerStop, value: number, group: string) => void;
  readonly flip: (stop: RulerStop) => void;
}

interface Press {
  readonly key: string;
  readonly repeat: boolean;
  readonly shiftKey: boolean;
}

/** Steps that a key goes by. */
const steps: Readonly<Record<string, number>> = {
  ArrowLeft: -1,
  ArrowDown: -1,
  ArrowRight: 1,
  ArrowUp: 1,
  PageUp: 10,
  PageDown: -10,
};

export class RulerHand {
  /** Index of the stop that is dragged. */
  dragged = $state<number>();
  /** The scale as it was when a stop was grabbed: it stands still, so that the stop stays under the pointer. */
  frozen = $state.raw<RulerLayout>();
  private group = '';
  private readonly around: Surroundings;

  constructor(around: Surroundings) {
    this.around = around;
  }

  /** The least and most that a stop can be moved to: its neighbours keep a step of room. */
  limits({ value }: RulerStop): readonly [number, number] {
    const [bands, { stops }, finest] = [this.around.bands(), this.around.live(), this.around.finest()];
    const before = stops.findLast((s) => s.value < value)?.value ?? bands[0]?.from ?? -Infinity;
    const after = stops.find((s) => s.value > value)?.value ?? bands.at(-1)?.to ?? Infinity;
    return [before + finest, after - finest];
  }

  grab(index: number): void {
    this.frozen = this.around.live();
    this.dragged = index;
    this.group = uniqueId();
  }

  /** @param x of the pointer, in pixels of the ruler. `isFine`: by the smallest step, rather than by one that fits the scale. */
  drag(x: number, isFine: boolean): void {
    const stop = this.dragged === undefined ? undefined : this.around.live().stops[this.dragged];
    if (!stop || !this.frozen) return;
    const finest = this.around.finest();
    const step = isFine ? finest : dragStep(this.frozen.unitsAt(x), finest);
    this.to(stop, Math.round(this.frozen.value(x) / step) * step);
  }

  letGo(): void {
    this.frozen = undefined;
    this.dragged = undefined;
  }

  /** Gives whether the key means something here. */
  press({ key, repeat, shiftKey }: Press, stop: RulerStop): boolean {
    const by = steps[key];
    if (by !== undefined) {
      if (!repeat) this.group = uniqueId();
      this.to(stop, stop.value + by * this.around.finest() * (shiftKey ? 10 : 1));
      return true;
    }
    if (key !== ' ' && key !== 'Enter') return false;
    this.around.flip(stop);
    return true;
  }

  private to(stop: RulerStop, wanted: number): void {
    const [low, high] = this.limits(stop);
    const decimals = Math.max(0, -Math.floor(Math.log10(this.around.finest())));
    const value = Number(Math.min(high, Math.max(low, wanted)).toFixed(decimals));
    if (value !== stop.value && Number.isFinite(value)) this.around.move(stop, value, this.group);
  }
}
