import { connect, type Socket } from 'node:net';

/** What an answer of the server came to. */
export interface Answer {
  readonly status: number;
  readonly body: string;
}

/**
 * One connection that sends a request, waits for its answer, and sends the next: as little work as a client can have, so
 * that a measurement is of the server. Answers have to carry a Content-Length.
 */
export class Client {
  private readonly socket: Socket;
  private received = '';
  private done: ((answer: Answer) => void) | undefined;
  private failed: ((error: Error) => void) | undefined;

  constructor(
    private readonly port: number,
    private readonly headers = '',
  ) {
    this.socket = connect({ port, host: '127.0.0.1', noDelay: true });
    this.socket.setEncoding('latin1');
    this.socket.on('data', (chunk) => this.take(String(chunk)));
    this.socket.on('error', (error) => this.failed?.(error));
    this.socket.on('close', () => this.failed?.(new Error('The server closed the connection')));
  }

  send(method: string, path: string, body = '', headers = ''): Promise<Answer> {
    return new Promise((resolve, reject) => {
      this.done = resolve;
      this.failed = reject;
      this.socket.write(
        `${method} ${path} HTTP/1.1\r\nhost: 127.0.0.1:${this.port}\r\n${this.headers}${headers}content-type: application/json\r\ncontent-length: ${Buffer.byteLength(body)}\r\n\r\n${body}`,
      );
    });
  }

  private take(chunk: string): void {
    this.received += chunk;
    const end = this.received.indexOf('\r\n\r\n');
    if (end < 0) return;
    const head = this.received.slice(0, end);
    const length = Number(/content-length: (\d+)/i.exec(head)?.[1] ?? 0);
    if (this.received.length < end + 4 + length) return;
    const body = this.received.slice(end + 4, end + 4 + length);
    this.received = '';
    this.done?.({ status: Number(head.slice(9, 12)), body });
  }

  close(): void {
    this.failed = undefined;
    this.socket.destroy();
  }
}

/** Signs in and gives the headers that later requests carry. */
export async function signIn(port: number, login: string, password: string): Promise<string> {
  const answer = await fetch(`http://127.0.0.1:${port}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login, password }),
  });
  if (answer.status !== 200) throw new Error(`Signing in failed: ${answer.status} ${await answer.text()}`);
  const { csrf } = (await answer.json()) as { csrf: string };
  const cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? '';
  return `cookie: ${cookie}\r\nx-fiche-csrf: ${csrf}\r\n`;
}
