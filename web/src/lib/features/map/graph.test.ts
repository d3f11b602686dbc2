import { compileProgram } from '@rigid-rule/core/compile';
import type { Rule } from '@rigid-rule/core/document';
import { draft } from '@rigid-rule/demo';
import { describe, expect, it } from 'vitest';
import { fieldId, graphOf, reach, ruleId, type Graph } from './graph.ts';
import { layOut } from './layout.ts';
import { MapLight } from './light.ts';

const program = compileProgram(draft);
const of = (type: string, rules: readonly Rule[] = draft.rules): Graph => {
  const compiled = compileProgram({ ...draft, rules });
  return graphOf(compiled.types.get(type)!, compiled);
};

describe('the dependency map', () => {
  it.each(draft.recordTypes.map((t) => t.key))('of %s has every rule, what it reads and what it writes', (type) => {
    const compiled = program.types.get(type)!;
    const graph = of(type);
    for (const r of compiled.rules) {
      expect(graph.nodes.has(ruleId(r.rule.key))).toBe(true);
      for (const slot of r.writes)
        expect(graph.edges).toContainEqual(
          expect.objectContaining({ from: ruleId(r.rule.key), to: fieldId(type, compiled.slots[slot]!.field.key) }),
        );
    }
    for (const { from, to } of graph.edges) expect([graph.nodes.has(from), graph.nodes.has(to)]).toEqual([true, true]);
  });

  it('what is upstream of a field is what it is downstream of', () => {
    const graph = of('deal');
    for (const id of graph.nodes.keys())
      for (const other of reach(graph, id, 'up')) expect(reach(graph, other, 'down').has(id)).toBe(true);
  });

  it('a ring is marked, with the rules and fields in it', () => {
    const base = draft.rules.find((r) => r.recordType === 'deal' && r.kind === 'derive')!;
    const derive = (key: string, target: string, formula: string): Rule => ({
      ...base,
      key,
      name: key,
      condition: '',
      outcome: { steps: [{ target, scratch: '', formula, blank: 'clear' }] },
    });
    const graph = of('deal', [derive('a', 'amount', 'Cost + 1'), derive('b', 'cost', 'Amount - 1')]);
    expect(graph.circles.map((c) => c.map((r) => r.name))).toEqual([['a', 'b']]);
    expect(graph.edges.filter((e) => e.circle)).toHaveLength(4);
    expect(layOut(graph).rings).toHaveLength(1);
  });

  it('lights what decides a node and what it decides, and nothing else', () => {
    const graph = of('deal');
    const rule = [...graph.nodes.values()].find((n) => n.is === 'rule' && n.circle < 0)!;
    const light = new MapLight(graph, rule.id);
    for (const n of graph.nodes.values()) {
      const [up, down] = [light.up.has(n.id), light.down.has(n.id)];
      expect(light.ofNode(n), n.id).toBe(n === rule ? 'at' : up ? 'up' : down ? 'down' : '');
    }
    expect(graph.edges.filter((e) => e.to === rule.id).map((e) => light.ofEdge(e))).not.toContain('');
    expect(graph.edges.filter((e) => e.from === rule.id).map((e) => light.ofEdge(e))).not.toContain('');
    const dark = new MapLight(graph, undefined);
    expect(new Set([...graph.nodes.values()].map((n) => dark.ofNode(n)))).toEqual(new Set(['']));
  });

  it('is laid out from left to right, nothing on top of another', () => {
    const graph = of('deal');
    const { placed, drawn, width, height } = layOut(graph);
    const at = new Map(placed.map((p) => [p.node.id, p]));
    expect(drawn).toHaveLength(graph.edges.length);
    for (const e of graph.edges.filter((x) => !x.circle && !x.previous))
      expect(at.get(e.from)!.x, `${e.from} to ${e.to}`).toBeLessThan(at.get(e.to)!.x);
    for (const p of placed) {
      expect(p.x + p.width / 2).toBeLessThanOrEqual(width);
      expect(p.y + p.height / 2).toBeLessThanOrEqual(height);
      for (const q of placed)
        if (p !== q)
          expect(
            Math.abs(p.x - q.x) * 2 >= p.width + q.width || Math.abs(p.y - q.y) * 2 >= p.height + q.height,
            `${p.node.name} and ${q.node.name}`,
          ).toBe(true);
    }
  });
});
