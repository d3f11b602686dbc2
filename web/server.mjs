/**
 * The HTTP server: compresses dynamic answers (static ones come compressed from the build), then hands over to the
 * application. Stops cleanly on SIGINT and SIGTERM: no new requests, open ones end, then the pool closes.
 */
import compression from 'compression';
import { createServer } from 'node:http';
import { setAnswerHeaders } from './answer-headers.mjs';
import { answer } from './application.mjs';
import { hearDrainedOnce } from './drained.mjs';

const host = process.env.HOST ?? '127.0.0.1';
const port = Number(process.env.PORT ?? 4650);
const trustProxy = process.env.TRUST_PROXY === '1';
const fixedOrigin = process.env.ORIGIN && new URL(process.env.ORIGIN).origin;

const compress = compression({
  threshold: 1024,
  // Events are sent as they happen: compressing would hold them back.
  filter: (req, res) =>
    !String(res.getHeader('content-type')).startsWith('text/event-stream') && compression.filter(req, res),
});

/** Names under which this server is asked, as ALLOWED_HOSTS lists them; without it whatever a proxy or browser says. */
const allowedHosts = (process.env.ALLOWED_HOSTS ?? '')
  .split(',')
  .map((h) => h.trim().toLowerCase())
  .filter(Boolean);
const isServed = (host = '') =>
  allowedHosts.length === 0 || allowedHosts.includes(host.toLowerCase()) || allowedHosts.includes(hostName(host));
const hostName = (host) => host.toLowerCase().replace(/:\d+$/, '');

const server = createServer((req, res) => {
  // Files are sent whole. What serves them takes a part that ends before it begins for an error of its own.
  delete req.headers.range;
  const origin = originOf(req);
  setAnswerHeaders(res, req.url, origin.startsWith('https:'));
  // The next request of a connection that stays open would be cut off.
  if (stopping) res.setHeader('connection', 'close');
  try {
    // A target in full would name a host of its own.
    if (!req.url.startsWith('/')) plain(res, 400, 'This is no address of this server.');
    else if (!isServed(req.headers.host)) plain(res, 421, 'This host is not served here.');
    else
      compress(req, res, () => {
        hearDrainedOnce(res);
        answer(req, res, origin);
      });
  } catch (error) {
    console.error('a request failed before it came to the application:', error);
    if (res.headersSent) res.destroy();
    else plain(res, 500, 'Something went wrong on our side.');
  }
});

/** Only a proxy that the operator named may say which protocol the browser spoke. */
function originOf({ headers }) {
  if (fixedOrigin) return fixedOrigin;
  const secure = trustProxy && headers['x-forwarded-proto']?.startsWith('https');
  return `${secure ? 'https' : 'http'}://${headers.host ?? ''}`;
}

function plain(res, status, text) {
  res.writeHead(status, { 'content-type': 'text/plain; charset=utf-8' }).end(`${text}\n`);
}

server.listen(port, host, () => {
  process.send?.({ listening: server.address() });
});
server.on('error', (error) => {
  console.error(`The web server could not listen on ${host}:${port}: ${error.message}`);
  process.exit(1);
});

// One promise that nobody waited for never ends the process for all; it is a fault all the same, and logged.
process.on('unhandledRejection', (error) => console.error('a promise was rejected and nobody heard of it:', error));
// After an error that nobody caught nothing is certain: who is served now is served to the end, and the start command
// begins anew.
process.on('uncaughtException', (error) => {
  console.error('an error that nobody caught; the server ends:', error);
  process.exitCode = 1;
  stop('uncaughtException');
});

/** Milliseconds that requests which came before the stop have to end. */
const longestFarewell = 10_000;
let stopping = false;
function stop(signal) {
  if (stopping) return;
  stopping = true;
  // Event streams never end by themselves: hearing of it, the application ends them.
  process.emit('rigid-rule:stopping');
  server.close(() => {
    process.emit('sveltekit:shutdown', signal);
    // The channel to the parent would keep this process alive.
    if (process.connected) process.disconnect();
  });
  server.closeIdleConnections();
  setTimeout(() => server.closeAllConnections(), longestFarewell).unref();
}
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
// A parent that was killed hard leaves no server behind.
if (process.send) process.on('disconnect', () => stop('disconnect'));
