/** The lines of an icon, which its package gives without types: elements of SVG in a box of 24 by 24. */
declare module 'lucide/dist/esm/icons/*.mjs' {
  type Lines = Readonly<Record<'d' | 'cx' | 'cy' | 'r' | 'x' | 'y' | 'width' | 'height' | 'rx', string>>;
  const lines: readonly (readonly ['path' | 'circle' | 'rect', Lines])[];
  export default lines;
}
