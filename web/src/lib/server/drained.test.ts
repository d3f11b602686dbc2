import compression from 'compression';
import { randomBytes } from 'node:crypto';
import { createServer, get, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, it } from 'vitest';
import { hearDrainedOnce } from '../../../drained.mjs';

/** Writes as the framework does: goes on once what was written is on its way. Says who heard of it at each pause. */
async function write(res: ServerResponse, pieces: readonly Buffer[]): Promise<readonly number[]> {
  const heard: number[] = [];
  for (const piece of pieces) {
    if (res.write(piece)) continue;
    const drained = new Promise<void>((done) => res.once('drain', done));
    const nobody = (): void => undefined;
    const emitter = res.on('drain', nobody);
    heard.push(emitter.listenerCount('drain') - 1);
    emitter.off('drain', nobody);
    await drained;
  }
  res.end();
  return heard;
}

it.each(['br', 'gzip', 'identity'])(
  'a long answer as %s pauses often, and no more hear of it each time',
  async (coding) => {
    const pieces = Array.from({ length: 60 }, () => randomBytes(65_536));
    let written: Promise<readonly number[]> | undefined;
    const compress = compression({ filter: () => true });
    const server = createServer((req, res) =>
      compress(req as never, res as never, () => {
        hearDrainedOnce(res);
        written = write(res, pieces);
      }),
    ).listen(0, '127.0.0.1');
    await new Promise((listening) => server.once('listening', listening));
    const { port } = server.address() as AddressInfo;
    const answer = await new Promise<IncomingMessage>((come, fail) =>
      get({ port, host: '127.0.0.1', headers: { 'accept-encoding': coding } }, come).on('error', fail),
    );
    let bytes = 0;
    answer.on('data', (part: Buffer) => (bytes += part.length));
    await new Promise((ended) => answer.once('end', ended));
    server.close();
    const heard = (await written)!;
    expect(heard.length).toBeGreaterThan(5);
    expect(new Set(heard.slice(1)).size).toBe(1);
    expect(bytes).toBeGreaterThan(60 * 65_536 - 1);
  },
);
