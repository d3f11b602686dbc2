/**
 * The order of the rules of one record type: a rule comes after those that write what it reads or wakes on; then the
 * author's position decides, then the key. Reading a previous value or one's own target orders nothing.
 */
import { inOneGo } from '../values/steps.ts';
import { compareText } from '../values/value.ts';
import { runIndexAt, type CompiledRule } from './compiled.ts';
import type { SlotIndex } from '../document/slots.ts';

type Unordered = Omit<CompiledRule, 'runIndex' | 'circle'>;

export const orderRules = (rules: readonly Unordered[]): CompiledRule[] => inOneGo(orderRulesInSteps(rules));

/** The same in short steps, for whoever has others waiting. */
export function* orderRulesInSteps(rules: readonly Unordered[]): Generator<void, CompiledRule[]> {
  const ranked = [...rules].sort((a, b) => a.rule.position - b.rule.position || compareText(a.rule.key, b.rule.key));
  const after = successors(ranked);
  yield;
  return topological(after).map(({ index, circle }, at) => ({ ...ranked[index]!, runIndex: runIndexAt(at), circle }));
}

/**
 * For each rule the rules that must come after it. A rule that writes nothing comes after those that write what its
 * notifications say; one that takes back values comes after those that give them.
 */
const successors = (rules: readonly Unordered[]): number[][] => edges(rules).map((next) => [...next.keys()]);

/** For each rule, by index, the rules that must come before it and the slots for which they must. */
export function predecessors(rules: readonly Unordered[]): ReadonlyMap<number, readonly SlotIndex[]>[] {
  const found = rules.map(() => new Map<number, readonly SlotIndex[]>());
  edges(rules).forEach((next, i) => next.forEach((slots, to) => found[to]!.set(i, slots)));
  return found;
}

function edges(rules: readonly Unordered[]): ReadonlyMap<number, readonly SlotIndex[]>[] {
  const readers = new Map<SlotIndex, number[]>();
  const read = (slot: SlotIndex, i: number): void => {
    const list = readers.get(slot);
    if (list) list.push(i);
    else readers.set(slot, [i]);
  };
  rules.forEach((r, i) => {
    const previousOnly = new Set(r.reads.previous.filter((s) => !r.reads.present.includes(s)));
    const told = r.writes.length === 0 ? r.told.present : [];
    for (const slot of new Set([...r.reads.present, ...r.wakes, ...told])) {
      if (r.writes.includes(slot) || (previousOnly.has(slot) && r.rule.wakesOn === undefined)) continue;
      read(slot, i);
    }
    for (const slot of r.confines) read(slot, i);
  });
  return rules.map((r, i) => {
    const next = new Map<number, SlotIndex[]>();
    for (const slot of r.writes)
      for (const reader of readers.get(slot) ?? []) {
        // Two that take back values of one field do not wait for each other.
        if (reader === i || (r.confines.includes(slot) && rules[reader]!.confines.includes(slot))) continue;
        const slots = next.get(reader);
        if (slots) slots.push(slot);
        else next.set(reader, [slot]);
      }
    return next;
  });
}

/** Kahn's order over the strongly connected components, the lowest rank first. */
function topological(after: readonly (readonly number[])[]): { index: number; circle: number }[] {
  const component = tarjan(after);
  const members: number[][] = [];
  component.forEach((c, i) => (members[c] ??= []).push(i));
  const next = members.map((ring, c) => [
    ...new Set(ring.flatMap((i) => after[i]!.map((j) => component[j]!)).filter((to) => to !== c)),
  ]);
  const waiting = members.map(() => 0);
  for (const to of next.flat()) waiting[to]!++;

  const ready = new MinHeap();
  waiting.forEach((count, c) => count === 0 && ready.push(members[c]![0]!));
  const result: { index: number; circle: number }[] = [];
  let circles = 0;
  while (ready.size > 0) {
    const c = component[ready.pop()]!;
    const ring = members[c]!;
    const circle = ring.length > 1 ? circles++ : -1;
    for (const index of ring) result.push({ index, circle });
    for (const to of next[c]!) if (--waiting[to]! === 0) ready.push(members[to]![0]!);
  }
  return result;
}

/** Component number of each node; iterative, so that a long chain does not exhaust the stack. */
function tarjan(after: readonly (readonly number[])[]): number[] {
  const n = after.length;
  const index = new Array<number>(n).fill(-1);
  const low = new Array<number>(n).fill(0);
  const component = new Array<number>(n).fill(-1);
  const stack: number[] = [];
  let counter = 0;
  let components = 0;
  for (let start = 0; start < n; start++) {
    if (index[start] !== -1) continue;
    const path: { node: number; edge: number }[] = [{ node: start, edge: 0 }];
    while (path.length > 0) {
      const top = path[path.length - 1]!;
      const { node } = top;
      if (top.edge === 0) {
        index[node] = low[node] = counter++;
        stack.push(node);
      }
      const to = after[node]![top.edge++];
      if (to !== undefined) {
        if (index[to] === -1) path.push({ node: to, edge: 0 });
        else if (component[to] === -1) low[node] = Math.min(low[node]!, index[to]!);
        continue;
      }
      path.pop();
      const parent = path[path.length - 1];
      if (parent) low[parent.node] = Math.min(low[parent.node]!, low[node]!);
      if (low[node] === index[node]) {
        let member: number;
        do {
          member = stack.pop()!;
          component[member] = components;
        } while (member !== node);
        components++;
      }
    }
  }
  return component;
}

class MinHeap {
  private readonly items: number[] = [];

  get size(): number {
    return this.items.length;
  }

  push(v: number): void {
    const { items } = this;
    let i = items.push(v) - 1;
    while (i > 0) {
      const parent = (i - 1) >> 1;
      if (items[parent]! <= v) break;
      items[i] = items[parent]!;
      i = parent;
    }
    items[i] = v;
  }

  pop(): number {
    const { items } = this;
    const first = items[0]!;
    const last = items.pop()!;
    const size = items.length;
    if (size === 0) return first;
    let i = 0;
    for (;;) {
      let child = 2 * i + 1;
      if (child >= size) break;
      if (child + 1 < size && items[child + 1]! < items[child]!) child++;
      if (items[child]! >= last) break;
      items[i] = items[child]!;
      i = child;
    }
    items[i] = last;
    return first;
  }
}
