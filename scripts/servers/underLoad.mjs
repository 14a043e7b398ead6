// What servers do while people save.
import { Saves } from '../load/saves.mjs';
import { until, wait } from './until.mjs';

/**
 * Saves through `caller` while `work` is done, by so many `writers` at such a `pace` (see Saves), then sends again what got no answer. Gives how many were
 * acknowledged, how many had to be sent more than once, and the longest time without a save, in ms.
 */
export async function underLoad(caller, form, { name, ...load }, work) {
  const saves = new Saves(form);
  const times = [performance.now()];
  const send = saves.send.bind(saves);
  saves.send = async (...given) => {
    const done = await send(...given);
    if (done) times.push(performance.now());
    return done;
  };
  const stop = saves.begin(caller, name, { ...load, pause: 100 });
  let outcome;
  try {
    await until('saves go on', () => saves.acknowledged.size > 20);
    outcome = await work(saves);
    const before = saves.acknowledged.size;
    await until('saves go on afterwards', () => saves.acknowledged.size > before + 20);
  } finally {
    await stop();
  }
  await saves.settle(caller);
  times.sort((a, b) => a - b);
  const gaps = times.slice(1).map((time, at) => time - times[at]);
  return {
    saves,
    outcome,
    again: [...saves.tries.values()].filter((tries) => tries > 1).length,
    most: Math.max(...saves.tries.values()),
    pause: Math.max(...gaps),
  };
}

/** How many saves a second go through in so many seconds. */
export async function rate(caller, form, name, seconds) {
  const saves = new Saves(form);
  const stop = saves.begin(caller, name);
  const begun = performance.now();
  await wait(seconds * 1_000);
  const count = saves.acknowledged.size;
  const passed = (performance.now() - begun) / 1_000;
  await stop();
  return { saves, perSecond: count / passed };
}
