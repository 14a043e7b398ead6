// Through a reverse proxy with TLS, as docs/operate has it: what a browser and a stranger get.
import { request } from 'node:https';
import { runTls } from './programs.mjs';

/** One request over TLS to the proxy; its certificate is trusted for this run. Gives status, headers and text. */
const askTls = ({ port, certificate }, { method = 'GET', path, body, headers = {} }) =>
  new Promise((resolve, reject) => {
    const sent = request(
      {
        host: '127.0.0.1',
        port,
        ca: certificate,
        method,
        path,
        agent: false,
        headers: { 'content-type': 'application/json', ...headers },
      },
      (reply) => {
        let text = '';
        reply.on('data', (chunk) => {
          text += chunk;
        });
        reply.on('end', () => resolve({ status: reply.statusCode, headers: reply.headers, text }));
      },
    );
    sent.on('error', reject);
    sent.end(body && JSON.stringify(body));
  });

/** What holds through the proxy, by what it is called. `serverPort` is that of a server with secure cookies that trusts one proxy. */
export async function throughTls(serverPort, credentials) {
  const proxy = await runTls(serverPort);
  try {
    const signedIn = await askTls(proxy, { method: 'POST', path: '/api/session', body: credentials });
    const cookie = String(signedIn.headers['set-cookie']?.[0] ?? '');
    const headers = { cookie: cookie.split(';')[0] };
    const session = await askTls(proxy, { path: '/api/session', headers });
    const metrics = await askTls(proxy, { path: '/api/metrics' });
    const direct = await fetch(`http://127.0.0.1:${serverPort}/api/metrics`);
    const figures = await direct.text();
    return {
      'A session over TLS, its cookie for secure connections only':
        /; Secure/i.test(cookie) && session.text.includes(credentials.login),
      'Browsers are told to come by TLS only': /max-age=\d+/.test(signedIn.headers['strict-transport-security'] ?? ''),
      'A request has the id that the proxy gave it': /^[0-9a-f]{32}$/.test(signedIn.headers['x-request-id'] ?? ''),
      'Metrics are for this machine, not for who comes by the proxy': metrics.status === 404 && direct.status === 200,
      'They are those of all processes of the server, and of the office once':
        figures.includes('route="/api/session"') && figures.match(/^fiche_database_bytes \d/gm)?.length === 1,
    };
  } finally {
    await proxy.stop();
  }
}
