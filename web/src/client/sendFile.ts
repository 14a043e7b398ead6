import type { ProblemDocument } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { begunHeader, NoConnection, ServerProblem, tokenNow } from './http.ts';

/** Sends a file as it is, tells how far it is (0 to 1), and gives the answer. Throws ServerProblem or NoConnection. */
export function sendFile<A>(
  url: string,
  file: Blob,
  onShare: (share: number) => void,
  signal: AbortSignal,
): Promise<A> {
  return new Promise((resolve, reject) => {
    // fetch cannot tell how much has gone out.
    const request = new XMLHttpRequest();
    request.open('POST', url);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.setRequestHeader('x-fiche-csrf', tokenNow());
    for (const [name, value] of Object.entries(begunHeader(url))) request.setRequestHeader(name, value);
    request.upload.onprogress = (event) => {
      if (event.lengthComputable) onShare(event.loaded / event.total);
    };
    request.onerror = () =>
      reject(new NoConnection(say('The server cannot be reached. The file was not sent; try again.')));
    request.onabort = () => reject(new Error(say('Cancelled. Nothing was sent.')));
    request.onload = () => {
      try {
        const answer: unknown = JSON.parse(request.responseText);
        if (request.status < 300) resolve(answer as A);
        else reject(new ServerProblem(answer as ProblemDocument));
      } catch {
        reject(new Error(say('The server answered {status}. Try again.', { status: request.status })));
      }
    };
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}
