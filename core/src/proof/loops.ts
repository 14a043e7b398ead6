import { type Check, called } from './finding.ts';

/** Fields that depend on one another in a circle, named along it. */
export const loops: Check = (examined) =>
  examined.form.wiring.loops.map((loop) => ({
    rule: 'loop',
    weight: 'must',
    path: loop[0] ?? '',
    message: `These fields depend on one another in a circle: ${loop.map((id) => called(examined, id)).join(' → ')}. Take one of the dependencies out.`,
    why: 'What one sets would change the other, and that the first again.',
  }));
