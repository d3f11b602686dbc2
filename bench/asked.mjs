/** Which bench is asked for on the command line, so that a wrong word is told and measures nothing. */
import { say } from '../scripts/lib/say.mjs';

const partsOfServer = ['patch', 'post', 'get', 'crowd', 'nodes'];
const partsOf = { engine: [], server: partsOfServer, large: [], proof: [] };
const usualFormulas = 30_000;

/** @returns `part`: undefined for all of them; `formulas`: how many random ones the engine's bench tries. */
function read([word = 'engine', part, ...rest]) {
  const isNumber = /^[1-9]\d*$/.test(word);
  const bench = isNumber ? 'engine' : word;
  const isKnown = Object.hasOwn(partsOf, bench) && (part === undefined || partsOf[bench].includes(part));
  if (isKnown && rest.length === 0) return { bench, part, formulas: isNumber ? Number(word) : usualFormulas };
  const words = [word, part, ...rest].join(' ').trim();
  say(`There is no bench "${words}": there are engine (or a number of random formulas), large, proof and server,`);
  say(`the last with one of ${partsOfServer.join(', ')} where not all of it is wanted.`);
  return process.exit(2);
}

export const asked = read(process.argv.slice(2));
