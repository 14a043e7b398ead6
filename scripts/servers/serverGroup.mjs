// Several servers of one office on one database.
import { freePort } from '../cluster.mjs';
import { ended, startServer } from '../load/startServer.mjs';

/** So long, in seconds, a server that stops still answers: longer than the proxy takes to see that it is not ready. */
const DRAIN_SECONDS = 1;

/** Several servers on fixed ports of loopback, each a process of its own. */
export class ServerGroup {
  /** By place: the process that listens there, and its port. */
  all = [];

  /** Starts so many; gives the one-time link where the office has no administrator yet. */
  async start(count, env, wantsLink = false) {
    this.env = { FICHE_WORKERS: '1', FICHE_TRUST_PROXY: '1', FICHE_DRAIN_SECONDS: String(DRAIN_SECONDS), ...env };
    for (let at = 0; at < count; at++) this.all.push({ port: await freePort() });
    // The first alone: it migrates, and says the link.
    const link = await this.startAt(0, { wantsLink });
    await Promise.all(this.ports.slice(1).map((_, at) => this.startAt(at + 1)));
    return link;
  }

  get ports() {
    return this.all.map((one) => one.port);
  }

  at(place) {
    return `http://127.0.0.1:${this.all[place].port}`;
  }

  /** Starts the server of a place, of this checkout or of another one. */
  async startAt(place, { home, wantsLink = false, env = {} } = {}) {
    const { port } = this.all[place];
    const started = await startServer({ env: { ...this.env, ...env, PORT: String(port) }, home, wantsLink });
    this.all[place].child = started.child;
    return started.link;
  }

  async kill(place) {
    this.all[place].child.kill('SIGKILL');
    await ended(this.all[place].child);
  }

  async stopAt(place) {
    this.all[place].child.kill('SIGTERM');
    await ended(this.all[place].child);
  }

  async stop() {
    await Promise.all(this.all.map((_, place) => this.stopAt(place)));
    this.all = [];
  }

  killAll() {
    for (const { child } of this.all) child?.kill('SIGKILL');
  }
}
