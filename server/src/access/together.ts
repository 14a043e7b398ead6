/**
 * Asks for many at once what would be asked for each: whoever comes while a question is under way waits for the next one,
 * so that an answer is never older than who asked for it. Alone, nobody waits. `ask` gives an answer for every key.
 */
export class Together<T> {
  private next = new Map<string, { answer: Promise<T>; done(answer: T): void; failed(error: unknown): void }>();
  private asking = false;

  constructor(private readonly ask: (keys: readonly string[]) => Promise<ReadonlyMap<string, T>>) {}

  of(key: string): Promise<T> {
    const known = this.next.get(key);
    if (known) return known.answer;
    const { promise, resolve, reject } = withResolvers<T>();
    this.next.set(key, { answer: promise, done: resolve, failed: reject });
    if (!this.asking) void this.run();
    return promise;
  }

  private async run(): Promise<void> {
    this.asking = true;
    // Whoever comes in the same turn of the event loop is asked for, too.
    await Promise.resolve();
    while (this.next.size > 0) {
      const asked = this.next;
      this.next = new Map();
      try {
        const answers = await this.ask([...asked.keys()]);
        for (const [key, { done, failed }] of asked) {
          const answer = answers.get(key);
          if (answer === undefined) failed(new Error('A question has no answer'));
          else done(answer);
        }
      } catch (error) {
        for (const { failed } of asked.values()) failed(error);
      }
    }
    this.asking = false;
  }
}

function withResolvers<T>() {
  let resolve: (value: T) => void = () => undefined;
  let reject: (error: unknown) => void = () => undefined;
  const promise = new Promise<T>((done, failed) => {
    resolve = done;
    reject = failed;
  });
  return { promise, resolve, reject };
}
