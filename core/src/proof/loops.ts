import { say } from '../languages/index.ts';
import { type Check, called } from './finding.ts';

/** Fields that depend on one another in a circle, named along it. */
export const loops: Check = (examined) =>
  examined.form.wiring.loops.map((loop) => ({
    rule: 'loop',
    weight: 'must',
    path: loop[0] ?? '',
    message: say('These fields depend on one another in a circle: {list}. Take one of the dependencies out.', {
      list: loop.map((id) => called(examined, id)).join(' → '),
    }),
    why: say('What one sets would change the other, and that the first again.'),
  }));
