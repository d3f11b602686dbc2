/**
 * HTTP requests as fast as they are answered, by wrk: as pgbench is, a small program in C. A generator in JavaScript takes
 * a fifth of the processor time that there is from the server that it measures.
 */
import { existsSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { aptInstall } from '../scripts/lib/packages.mjs';
import { must } from '../scripts/lib/run.mjs';

const program = '/usr/bin/wrk';

export async function ensureLoad() {
  if (!existsSync(program)) await aptInstall(['wrk'], 'wrk, for the load on the server,');
}

/** Counts answers by status, and tells all as one line of JSON; wrk has one thread, so that there is one count. */
const counted = `
local own
codes = {}
setup = function(thread) own = thread end
response = function(status) codes[status] = (codes[status] or 0) + 1 end
done = function(summary, latency)
  local told = {}
  for status, n in pairs(own:get("codes")) do told[#told + 1] = string.format('"%d":%d', status, n) end
  local e = summary.errors
  print(string.format('{"micros":%d,"p99":%d,"errors":%d,"codes":{%s}}', summary.duration, latency:percentile(99),
    e.connect + e.read + e.write + e.timeout, table.concat(told, ",")))
end
`;

/**
 * @param next Lua: returns the method, the path and the body of the next request.
 * @returns Successful answers a second, milliseconds that 99 of 100 stay within, counts by status, and of connections that
 *   failed.
 */
export async function load({ origin, token, connections, seconds, next }) {
  const headers = { authorization: `Bearer ${token}`, 'content-type': 'application/json', 'if-match': '*' };
  const script = join(mkdtempSync(join(tmpdir(), 'rigid-rule-')), 'load.lua');
  writeFileSync(
    script,
    [
      counted,
      ...Object.entries(headers).map(([name, value]) => `wrk.headers["${name}"] = "${value}"`),
      `math.randomseed(${Math.floor(Math.random() * 2 ** 31)})`,
      `local function following()\n${next}\nend`,
      'request = function()',
      '  local method, path, body = following()',
      '  return wrk.format(method, path, nil, body)',
      'end',
    ].join('\n'),
  );
  const args = ['-t', '1', '-c', String(connections), '-d', `${seconds}s`, '--timeout', '30s', '-s', script, origin];
  const told = JSON.parse(/^\{.*\}$/m.exec(await must(program, args, 'wrk failed.'))[0]);
  const ok = Object.entries(told.codes).reduce((n, [code, count]) => n + (code.startsWith('2') ? count : 0), 0);
  return { perSecond: ok / (told.micros / 1e6), p99: told.p99 / 1000, codes: told.codes, errors: told.errors };
}
