import type { LabelPreview } from '@fiche/core/api';
import { LABEL_PADDING, type LabelLayout, LINE_HEIGHT, labelsOnSheet, placeOnSheet, qrSide } from '@fiche/core/labels';
import { say } from '@fiche/core/languages';
import { PAPERS, POINTS_A_MM } from '@fiche/core/print';
import { clsx } from 'clsx';
import exportsCss from './exports.module.css';

interface PictureProps {
  readonly layout: LabelLayout;
  readonly labels: LabelPreview['labels'];
  readonly start: number;
  onStart(start: number): void;
}

/** The first sheet as it will be printed, in millimetres; a press on a label begins there. */
export function LabelSheetPicture({ layout, labels, start, onStart }: PictureProps) {
  const { sheet } = layout;
  const { width, height } = PAPERS[sheet.paper];
  const byPlace = new Map(labels.map((label) => [label.place, label]));
  const side = qrSide(layout);
  return (
    <svg
      className={exportsCss.picture}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={say('The first sheet of labels')}
    >
      {Array.from({ length: labelsOnSheet(sheet) }, (_one, place) => {
        const { x, y } = placeOnSheet(sheet, place);
        const label = byPlace.get(place);
        return (
          // The number beside the picture does the same by keyboard.
          <g key={`${x} ${y}`} transform={`translate(${x} ${y})`} onPointerDown={() => onStart(place + 1)}>
            <rect
              className={clsx(
                exportsCss.label,
                place + 1 < start && exportsCss.used,
                label?.misfits && exportsCss.misfits,
              )}
              width={sheet.width}
              height={sheet.height}
            />
            {label && <LabelText label={label} height={sheet.height} />}
            {label && side > 0 && (
              <rect
                className={exportsCss.code}
                x={sheet.width - LABEL_PADDING - side}
                y={(sheet.height - side) / 2}
                width={side}
                height={side}
              />
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** From the top of a line to the foot of its letters, in times its size. */
const BASELINE = 0.92;

function LabelText({ label, height }: { readonly label: LabelPreview['labels'][number]; readonly height: number }) {
  const heights = label.lines.map((line) => (line.points * LINE_HEIGHT) / POINTS_A_MM);
  const top = (height - heights.reduce((sum, one) => sum + one, 0)) / 2;
  return (
    <>
      {label.lines.map((line, at) => {
        const size = line.points / POINTS_A_MM;
        const above = heights.slice(0, at).reduce((sum, one) => sum + one, 0);
        return (
          <text
            // biome-ignore lint/suspicious/noArrayIndexKey: a line is known by its place.
            key={at}
            x={LABEL_PADDING}
            y={top + above + size * BASELINE}
            fontSize={size}
            fontWeight={line.bold ? 600 : 400}
          >
            {line.text}
          </text>
        );
      })}
    </>
  );
}
