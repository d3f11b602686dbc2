/** Where the nodes of the dependency map stand and how its lines run: layered from left to right by dagre. */
import { Graph as Dagre, layout } from '@dagrejs/dagre';
import { curveBasis, line } from 'd3-shape';
import type { Edge, Graph, Node } from './graph.ts';

export interface Placed {
  readonly node: Node;
  /** Centre. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}
export interface Drawn {
  readonly edge: Edge;
  readonly path: string;
}
export interface Layout {
  readonly placed: readonly Placed[];
  readonly drawn: readonly Drawn[];
  readonly width: number;
  readonly height: number;
  /** A box around each ring of rules and the fields that they write. */
  readonly rings: readonly {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
    readonly count: number;
  }[];
}

const fieldHeight = 34;
const ruleSize = { width: 48, height: 22 };
const margin = 14;
/** Pixels for a letter of 13.5 px text; a label is cut where it is wrong. */
const letter = 7.2;

const curve = line<{ x: number; y: number }>()
  .x((p) => p.x)
  .y((p) => p.y)
  .curve(curveBasis);

function sizeOf(node: Node): { width: number; height: number } {
  if (node.is === 'rule') return { ...ruleSize }; // dagre writes into it
  const text = node.name.length + (node.elsewhere ? node.elsewhere.length + 2 : 0);
  return { width: Math.min(210, Math.max(104, text * letter + 14)), height: fieldHeight };
}

export function layOut(graph: Graph): Layout {
  const g = new Dagre();
  g.setGraph({ rankdir: 'LR', nodesep: 7, ranksep: 34, marginx: margin, marginy: margin });
  g.setDefaultEdgeLabel(() => ({}));
  for (const node of graph.nodes.values()) g.setNode(node.id, sizeOf(node));
  for (const { from, to } of graph.edges) g.setEdge(from, to, {});
  layout(g);
  const placed = [...graph.nodes.values()].map((node): Placed => {
    const { x, y, width, height } = g.node(node.id) as { x: number; y: number; width: number; height: number };
    return { node, x, y, width, height };
  });
  const at = new Map(placed.map((p) => [p.node.id, p]));
  // A field's line lies at its foot; a rule is met at its middle.
  const levelOf = (p: Placed): number => (p.node.is === 'field' ? p.y + fieldHeight / 2 - 4 : p.y);
  const drawn = graph.edges.map((edge): Drawn => {
    const { points = [] } = g.edge(edge.from, edge.to) as { points?: { x: number; y: number }[] };
    const [a, b] = [at.get(edge.from)!, at.get(edge.to)!];
    const back = a.x > b.x;
    const start = { x: a.x + (a.width / 2) * (back ? -1 : 1), y: levelOf(a) };
    const end = { x: b.x - (b.width / 2) * (back ? -1 : 1), y: levelOf(b) };
    const lead = back ? -14 : 14;
    const middle = points.slice(1, -1);
    const path = curve([start, { x: start.x + lead, y: start.y }, ...middle, { x: end.x - lead, y: end.y }, end]) ?? '';
    return { edge, path };
  });
  const rings = graph.circles.map((rules) => {
    const ids = new Set(rules.map((r) => r.id));
    const inner = graph.edges.filter((e) => e.circle && ids.has(e.from)).map((e) => e.to);
    const boxes = [...ids, ...inner].map((id) => at.get(id)!);
    const left = Math.min(...boxes.map((b) => b.x - b.width / 2)) - 10;
    const top = Math.min(...boxes.map((b) => b.y - b.height / 2)) - 22;
    const right = Math.max(...boxes.map((b) => b.x + b.width / 2)) + 10;
    const bottom = Math.max(...boxes.map((b) => b.y + b.height / 2)) + 8;
    return { x: left, y: top, width: right - left, height: bottom - top, count: rules.length };
  });
  const extent = (give: (p: Placed) => number): number => Math.max(0, ...placed.map(give)) + margin;
  return { placed, drawn, rings, width: extent((p) => p.x + p.width / 2), height: extent((p) => p.y + p.height / 2) };
}
