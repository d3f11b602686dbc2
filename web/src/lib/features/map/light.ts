/** What of the map stands out while somebody looks at one field or rule: what decides it, and what it decides. */
import { reach, type Edge, type Graph, type Node } from './graph.ts';

export type Light = 'at' | 'up' | 'down' | 'circle' | '';

const none: ReadonlySet<string> = new Set();

export class MapLight {
  /** Id of the node that is looked at. */
  readonly at: string | undefined;
  readonly up: ReadonlySet<string>;
  readonly down: ReadonlySet<string>;

  constructor(graph: Graph, at: string | undefined) {
    this.at = at;
    this.up = at === undefined ? none : reach(graph, at, 'up');
    this.down = at === undefined ? none : reach(graph, at, 'down');
  }

  ofNode(node: Node): Light {
    const circle = node.is === 'rule' ? node.circle >= 0 : node.circle;
    if (node.id === this.at) return 'at';
    // In a ring a node is both; what decides is told first.
    if (this.up.has(node.id)) return circle ? 'circle' : 'up';
    if (this.down.has(node.id)) return circle ? 'circle' : 'down';
    return circle && this.at === undefined ? 'circle' : '';
  }

  ofEdge({ from, to, circle }: Edge): Light {
    const { at, up, down } = this;
    if (circle && (at === undefined || up.has(from) || down.has(to) || from === at || to === at)) return 'circle';
    if ((to === at || up.has(to)) && up.has(from)) return 'up';
    if ((from === at || down.has(from)) && down.has(to)) return 'down';
    return '';
  }
}
