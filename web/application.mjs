/** The application as it is built: its files, and what it answers to everything else. */
import { getRequestListener } from '@hono/node-server';
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { fileURLToPath } from 'node:url';
import sirv from 'sirv';
import { clientAddressBy } from './client-address.mjs';

const built = (file) => new URL(`build/${file}`, import.meta.url);
const { Server } = await import(built('server/index.js').href);
const { manifest } = await import(built('server/manifest.js').href);

const client = fileURLToPath(built('client/'));
const application = new Server(manifest);
await application.init({
  env: process.env,
  read: (file) => Readable.toWeb(createReadStream(client + file)),
});

// Node loads what reads forms with the first of them, 30 ms in which everybody waits.
await new Request('http://localhost/', { method: 'POST', body: new URLSearchParams() }).formData();

/** Under these names nothing ever changes: what does has another name. */
const unchanging = `/${manifest.appPath}/immutable/`;
const files = sirv(client, {
  etag: true,
  gzip: true,
  brotli: true,
  setHeaders: (res, path) => {
    if (path.startsWith(unchanging)) res.setHeader('cache-control', 'public,max-age=31536000,immutable');
  },
});

const clientAddress = clientAddressBy(process.env);

/**
 * Requests and responses of the standard that are only made in full where somebody asks for more than their text: the
 * library puts its own in place of `Request` and `Response` of this process.
 */
const others = getRequestListener(
  (request, { incoming }) => application.respond(request, { getClientAddress: () => clientAddress(incoming) }),
  {
    errorHandler: (error) => {
      if (error.name === 'RequestError') return new Response('Bad Request', { status: 400 });
      console.error('the application failed to answer:', error);
      return new Response('Something went wrong on our side.', { status: 500 });
    },
  },
);

/**
 * @param {import('node:http').IncomingMessage} req
 * @param {import('node:http').ServerResponse} res
 * @param {string} origin under which the browser asks, as `https://rules.example`
 */
export function answer(req, res, origin) {
  const byApplication = () => {
    // A target in full says it to whoever makes the request of the standard; any other is of the host that it names.
    if (origin !== `http://${req.headers.host}`) req.url = origin + req.url;
    others(req, res);
  };
  if (mayBeFile(req)) files(req, res, byApplication);
  else byApplication();
}

/** Looking for a file takes a part of the time of a short answer. */
const mayBeFile = ({ method, url }) => (method === 'GET' || method === 'HEAD') && !url.startsWith('/api/');
