/** What writes what on one record type, as a graph: fields and rules as nodes, reads and writes as edges. */
import { deskOf, ruleAddress } from '$lib/addresses.ts';
import { sentFields, type Program, type TypeProgram } from '@rigid-rule/core/compile';
import type { SlotIndex } from '@rigid-rule/core/document';

export interface FieldNode {
  readonly is: 'field';
  readonly id: string;
  readonly name: string;
  /** Name of the record type that it is on, where that is another. */
  readonly elsewhere?: string;
  readonly href: string;
  readonly written: boolean;
  readonly circle: boolean;
}
export interface RuleNode {
  readonly is: 'rule';
  readonly id: string;
  readonly name: string;
  readonly kind: string;
  /** Its place in the order in which rules run, from 1. */
  readonly order: number;
  readonly href: string;
  /** Number of the ring that it is in; -1: none. */
  readonly circle: number;
  readonly on: boolean;
  /** It asks something of fields, and writes none. */
  readonly checks: boolean;
}
export type Node = FieldNode | RuleNode;

export interface Edge {
  readonly from: string;
  readonly to: string;
  /** It reads the value before the write, which orders nothing. */
  readonly previous?: true;
  readonly circle?: true;
}

export interface Graph {
  readonly nodes: ReadonlyMap<string, Node>;
  readonly edges: readonly Edge[];
  /** Rules of each ring, in the order in which they run. */
  readonly circles: readonly (readonly RuleNode[])[];
  /** Fields that no rule reads or writes. */
  readonly apart: readonly string[];
}

export const ruleId = (key: string): string => `rule ${key}`;
export const fieldId = (type: string, key: string): string => `field ${type}.${key}`;

export function graphOf(type: TypeProgram, program: Program): Graph {
  const { recordType, slots, rules } = type;
  const nodes = new Map<string, Node>();
  const edges: Edge[] = [];
  const inCircle = new Set(rules.filter((r) => r.circle >= 0).flatMap((r) => r.writes));
  const written = new Set(rules.flatMap((r) => r.writes));
  function own(slot: SlotIndex): string {
    const { field } = slots[slot]!;
    const id = fieldId(recordType.key, field.key);
    nodes.set(id, {
      is: 'field',
      id,
      name: field.name,
      href: deskOf(recordType.key, { field: field.key }),
      written: written.has(slot),
      circle: inCircle.has(slot),
    });
    return id;
  }
  function foreign(typeKey: string, key: string, isWritten: boolean): string | undefined {
    const other = program.types.get(typeKey)?.recordType;
    const field = other?.fields.find((f) => f.key === key);
    if (!other || !field) return undefined;
    const id = fieldId(typeKey, key);
    const known = nodes.get(id);
    nodes.set(id, {
      is: 'field',
      id,
      name: field.name,
      elsewhere: other.name,
      href: deskOf(typeKey, { field: key }),
      written: isWritten || (known?.is === 'field' && known.written),
      circle: false,
    });
    return id;
  }
  rules.forEach((r, i) => {
    const id = ruleId(r.rule.key);
    const { key, name, kind, on } = r.rule;
    nodes.set(id, {
      is: 'rule',
      id,
      name,
      kind,
      on,
      order: i + 1,
      href: ruleAddress(recordType.key, key),
      circle: r.circle,
      checks: r.writes.length === 0 && r.fieldConstraints !== undefined,
    });
    const demanded = (r.kind?.targets(r.rule.outcome) ?? [])
      .map((k) => type.slotOf.get(k))
      .filter((s) => s !== undefined);
    const targets = new Set([...r.writes, ...demanded]);
    for (const slot of r.reads.present)
      // Reading one's own target orders nothing.
      if (!targets.has(slot) || r.circle >= 0) {
        const ring = r.circle >= 0 && rules.some((o) => o.circle === r.circle && o.writes.includes(slot));
        edges.push({ from: own(slot), to: id, ...(ring ? { circle: true } : {}) });
      }
    for (const slot of r.reads.previous)
      if (!r.reads.present.includes(slot) && !targets.has(slot))
        edges.push({ from: own(slot), to: id, previous: true });
    for (const read of r.related) {
      const from = foreign(read.recordType, read.field, false);
      if (from && !edges.some((e) => e.from === from && e.to === id)) edges.push({ from, to: id });
    }
    for (const slot of targets)
      edges.push({ from: id, to: own(slot), ...(r.circle >= 0 && r.writes.includes(slot) ? { circle: true } : {}) });
    for (const sent of sentFields(r, type)) {
      const to = foreign(sent.recordType, sent.field, true);
      if (to) edges.push({ from: id, to });
    }
  });
  const rings = new Map<number, RuleNode[]>();
  for (const node of nodes.values())
    if (node.is === 'rule' && node.circle >= 0) rings.set(node.circle, [...(rings.get(node.circle) ?? []), node]);
  const apart = recordType.fields.filter((f) => !nodes.has(fieldId(recordType.key, f.key))).map((f) => f.name);
  return { nodes, edges, circles: [...rings.values()], apart };
}

/** All nodes that lead to one (or that it leads to), itself left out. */
export function reach(graph: Graph, id: string, way: 'up' | 'down'): ReadonlySet<string> {
  const found = new Set<string>();
  const next = [id];
  for (let at = next.pop(); at !== undefined; at = next.pop())
    for (const e of graph.edges) {
      const [here, there] = way === 'down' ? [e.from, e.to] : [e.to, e.from];
      if (here !== at || found.has(there) || there === id) continue;
      found.add(there);
      next.push(there);
    }
  return found;
}
