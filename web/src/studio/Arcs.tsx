import type { Edge, EdgeKind } from '@fiche/core/wiring';
import { path } from 'd3-path';

const LETTERS: Record<EdgeKind, string> = { narrows: 'N', fills: 'F', checks: 'M' };
/** Each kind has its own line and letter, not colour alone. */
const DASHES: Record<EdgeKind, string> = { narrows: '', fills: '5 3', checks: '1.5 3' };

export interface ArcsProps {
  readonly edges: readonly Edge[];
  /** The height of each field's line in the outline, in px from its top. */
  readonly heights: ReadonlyMap<string, number>;
  readonly selected?: string;
  readonly width: number;
  readonly height: number;
}

/** The wiring of a form: an arc from each field to the one that it narrows, fills or checks. */
export function Arcs({ edges, heights, selected, width, height }: ArcsProps) {
  const placed = edges.flatMap((edge) => {
    const [from, to] = [heights.get(edge.from), heights.get(edge.to)];
    return from === undefined || to === undefined
      ? []
      : [{ edge, from, to, reach: Math.min(width - 14, 16 + Math.abs(to - from) * 0.42) }];
  });
  return (
    <svg className="arcs" width={width} height={height} aria-hidden="true">
      {placed.map(({ edge, from, to, reach }, n) => {
        const line = path();
        line.moveTo(width - 3, from);
        line.bezierCurveTo(width - reach * 1.25, from, width - reach * 1.25, to, width - 5, to);
        const lit = edge.from === selected || edge.to === selected;
        const middle = [width - 4 - reach * 0.93, (from + to) / 2 + (n % 2 ? 3 : -3)] as const;
        return (
          <g key={`${edge.kind} ${edge.from} ${edge.to}`} className={`arc ${edge.kind}${lit ? ' lit' : ''}`}>
            <path d={line.toString()} strokeDasharray={DASHES[edge.kind]} />
            <path d={`M${width - 9},${to - 4}L${width - 4},${to}L${width - 9},${to + 4}`} />
            <circle cx={middle[0]} cy={middle[1]} r="7" />
            <text x={middle[0]} y={middle[1] + 3.5}>
              {LETTERS[edge.kind]}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
