import type { Edge, EdgeKind } from '@fiche/core/wiring';
import { clsx } from 'clsx';
import { path } from 'd3-path';
import arcsCss from './arcs.module.css';

export const WIRE_LETTERS: Record<EdgeKind, string> = {
  narrows: 'N',
  fills: 'F',
  shows: 'S',
  checks: 'V',
  calculates: 'C',
};
/** Each kind has its own line and letter, not colour alone. */
const DASHES: Record<EdgeKind, string> = {
  narrows: '',
  fills: '5 3',
  shows: '9 3 2 3',
  checks: '1.5 3',
  calculates: '3 2',
};

interface ArcsProps {
  readonly edges: readonly Edge[];
  /** The height of each field's line in the outline, in px from its top. */
  readonly heights: ReadonlyMap<string, number>;
  readonly selected?: string;
  readonly width: number;
  readonly height: number;
}

interface Placed {
  readonly edge: Edge;
  readonly from: number;
  readonly to: number;
  readonly reach: number;
  /** The height of its letter: letters that would cover one another stand apart. */
  readonly middle: number;
}

const LETTER = 15;

/** Places arcs so that short ones lie inside long ones, and no letter covers another. */
export function placeArcs(edges: readonly Edge[], heights: ReadonlyMap<string, number>, width: number): Placed[] {
  const taken: { x: number; y: number }[] = [];
  return edges
    .flatMap((edge) => {
      const [from, to] = [heights.get(edge.from), heights.get(edge.to)];
      return from === undefined || to === undefined || edge.from === edge.to ? [] : [{ edge, from, to }];
    })
    .sort((a, b) => Math.abs(a.to - a.from) - Math.abs(b.to - b.from))
    .map(({ edge, from, to }) => {
      const reach = Math.min(width - 14, 16 + Math.abs(to - from) * 0.42);
      const x = width - reach * 0.93;
      let middle = (from + to) / 2;
      for (let step = 1; taken.some((one) => Math.hypot(one.x - x, one.y - middle) < LETTER) && step < 12; step++)
        middle = (from + to) / 2 + (step % 2 ? 1 : -1) * Math.ceil(step / 2) * (LETTER / 2 + 1);
      taken.push({ x, y: middle });
      return { edge, from, to, reach, middle };
    });
}

/** The wiring of a form: an arc from each field to the one that it narrows, fills, shows, checks or calculates. */
export function Arcs({ edges, heights, selected, width, height }: ArcsProps) {
  const placed = placeArcs(edges, heights, width);
  const lit = ({ edge }: Placed): boolean => edge.from === selected || edge.to === selected;
  return (
    <svg
      className={clsx(arcsCss.arcs, placed.some(lit) && arcsCss.someLit)}
      width={width}
      height={height}
      aria-hidden="true"
    >
      {[...placed.filter((one) => !lit(one)), ...placed.filter(lit)].map((one) => {
        const { edge, from, to, reach, middle } = one;
        const line = path();
        line.moveTo(width - 3, from);
        line.bezierCurveTo(width - reach * 1.25, from, width - reach * 1.25, to, width - 5, to);
        const x = width - 4 - reach * 0.93;
        return (
          <g
            key={`${edge.kind} ${edge.from} ${edge.to}`}
            className={clsx(arcsCss.arc, arcsCss[edge.kind], lit(one) && arcsCss.lit)}
          >
            <path d={line.toString()} strokeDasharray={DASHES[edge.kind]} />
            <path d={`M${width - 9},${to - 4}L${width - 4},${to}L${width - 9},${to + 4}`} />
            <circle cx={x} cy={middle} r="7" />
            <text x={x} y={middle + 3.5}>
              {WIRE_LETTERS[edge.kind]}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
