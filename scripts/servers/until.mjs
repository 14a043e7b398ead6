// Waiting, for the command that runs several servers.

export const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Asks again until it holds; throws with `what` after so many seconds. Gives what held. */
export async function until(what, holds, seconds = 20) {
  for (const end = Date.now() + seconds * 1_000; Date.now() < end; await wait(50)) {
    const found = await holds();
    if (found) return found;
  }
  throw new Error(`Not within ${seconds} s: ${what}`);
}
