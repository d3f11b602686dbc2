/** Plain words on the terminal, and one way to give up. */
export class Stop extends Error {}

const began = Date.now();
export const say = (text) => console.log(text);
export const step = (text) => console.log(`${((Date.now() - began) / 1000).toFixed(1).padStart(6)} s  ${text}`);

/** Ends the script with a sentence that says what to do, not with a stack trace. */
export function giveUp(sentence) {
  throw new Stop(sentence);
}
