/** How wide the two sides of a screen are beside its middle: what somebody may make of them, and what is kept of it. */

export interface SideLimits {
  /** Per cent of the whole that it has until somebody says otherwise. */
  readonly usual: number;
  /** Per cent below which it is folded away instead. */
  readonly least: number;
}

export interface Side {
  /** Per cent of the whole, also while it is folded away: it comes back as it was. */
  readonly size: number;
  readonly folded: boolean;
}

export interface Sides {
  readonly left: Side;
  readonly right: Side;
}

export type SideName = keyof Sides;

export interface SidesLimits {
  readonly left: SideLimits;
  readonly right: SideLimits;
  /** Per cent that the middle keeps in any case. */
  readonly middle: number;
}

export const otherSide = (name: SideName): SideName => (name === 'left' ? 'right' : 'left');

/** Per cent that a side takes by now. */
export const takenBy = ({ size, folded }: Side): number => (folded ? 0 : size);

export const usualSides = ({ left, right }: SidesLimits): Sides => ({
  left: { size: left.usual, folded: false },
  right: { size: right.usual, folded: false },
});

/** Per cent that a side may have at most: the middle and the other side keep what they need. */
export function mostOf(sides: Sides, name: SideName, limits: SidesLimits): number {
  const other = otherSide(name);
  return 100 - limits.middle - (sides[other].folded ? 0 : limits[other].least);
}

const withFoldedAway = (sides: Sides, name: SideName): Sides => ({
  ...sides,
  [name]: { ...sides[name], folded: true },
});

/**
 * A side after its edge was drawn to `wanted` per cent: the other one makes room where there is no more of it. Drawn to
 * less than half of its least, a side is folded away.
 */
export function withSize(sides: Sides, name: SideName, wanted: number, limits: SidesLimits): Sides {
  const { least } = limits[name];
  if (wanted < least / 2) return withFoldedAway(sides, name);
  const size = Math.min(Math.max(wanted, least), mostOf(sides, name, limits));
  const other = sides[otherSide(name)];
  const room = 100 - limits.middle - size;
  const beside = other.folded ? other : { ...other, size: Math.min(other.size, room) };
  return { ...sides, [name]: { size, folded: false }, [otherSide(name)]: beside };
}

/** A side folded away, or back as it was. */
export function withFold(sides: Sides, name: SideName, limits: SidesLimits): Sides {
  const { size, folded } = sides[name];
  return folded ? withSize(sides, name, Math.max(size, limits[name].least), limits) : withFoldedAway(sides, name);
}

/** What a key does to a side (WAI-ARIA, window splitter); undefined: nothing. `step` in per cent. */
export function withKey(sides: Sides, name: SideName, key: string, limits: SidesLimits, step = 2): Sides | undefined {
  const taken = takenBy(sides[name]);
  const outward = name === 'left' ? 'ArrowRight' : 'ArrowLeft';
  const inward = name === 'left' ? 'ArrowLeft' : 'ArrowRight';
  if (key === 'Enter') return withFold(sides, name, limits);
  if (key === 'Home') return withSize(sides, name, limits[name].least, limits);
  if (key === 'End') return withSize(sides, name, mostOf(sides, name, limits), limits);
  if (key === outward) return withSize(sides, name, Math.max(taken + step, limits[name].least), limits);
  if (key === inward)
    return taken > limits[name].least ? withSize(sides, name, taken - step, limits) : withFoldedAway(sides, name);
  return undefined;
}

/** Reads what `JSON.stringify` made of sides; the usual ones where it is anything else. */
export function readSides(text: string | null, limits: SidesLimits): Sides {
  try {
    const read = JSON.parse(text ?? '') as Partial<Sides> | null;
    const sideOf = (name: SideName): Side => {
      const { size, folded } = read?.[name] ?? {};
      return { size: Number.isFinite(size) ? size! : limits[name].usual, folded: folded === true };
    };
    const kept = { left: sideOf('left'), right: sideOf('right') };
    const away = { left: { ...kept.left, folded: true }, right: { ...kept.right, folded: true } };
    const shown = (['left', 'right'] as const).filter((name) => !kept[name].folded);
    return shown.reduce<Sides>((sides, name) => withFold(sides, name, limits), away);
  } catch {
    return usualSides(limits);
  }
}
