import { type KnownColumn, type Listing, NARROWEST, WIDEST } from '@fiche/core/views';
import {
  columnPinningFeature,
  columnResizingFeature,
  columnSizingFeature,
  type Header,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type CSSProperties, type RefObject, useEffect, useMemo, useState } from 'react';
import { drawnWidths } from './gridCells.ts';

const features = tableFeatures({ columnPinningFeature, columnResizingFeature, columnSizingFeature });
const NO_ROWS: readonly object[] = [];

export type GridHeader = Header<typeof features, object, unknown>;

/** A column that is drawn: where it stands, and whether it stays in sight. */
export interface DrawnColumn {
  readonly column: KnownColumn;
  /** Its place in the list, from 0. */
  readonly at: number;
  readonly header: GridHeader;
  /** Its track of the CSS grid that a row is. */
  readonly track: number;
  /** From the left edge in px, where it stays in sight; undefined where it moves. */
  readonly stays: number | undefined;
}

/** Whether a column is drawn at its place in a grid; on a phone there are only columns. */
export const isDrawn = (column: DrawnColumn | KnownColumn): column is DrawnColumn => 'header' in column;

interface GridColumnsProps {
  readonly box: RefObject<HTMLDivElement | null>;
  readonly columns: readonly KnownColumn[];
  readonly listing: Pick<Listing, 'columns' | 'frozen'>;
  /** What stands under the columns, by path. */
  readonly foot: ReadonlyMap<string, string>;
  /** The width of what stands before the columns, in px: the boxes that select. */
  readonly before: number;
  /** Somebody has drawn columns wider or narrower: the new widths by path, in px. */
  onWidths(widths: Readonly<Record<string, number>>): void;
}

/**
 * The columns of a grid as they are drawn: each as wide as it was made, or as its type wants, stretched to the width of the
 * grid; the frozen ones first, then those in sight.
 */
export function useGridColumns({ box, columns, listing, foot, before, onWidths }: GridColumnsProps) {
  // What is being dragged, until the mouse is let go.
  const [dragged, setDragged] = useState<Readonly<Record<string, number>>>({});
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const { current: element } = box;
    if (!element) return;
    const watcher = new ResizeObserver(() => setWidth(element.clientWidth));
    watcher.observe(element);
    return () => watcher.disconnect();
  }, [box]);
  const made = new Map(listing.columns.flatMap((one) => (one.width === undefined ? [] : [[one.path, one.width]])));
  const resting = drawnWidths(columns, made, foot, width - before);
  const widths = { ...resting, ...dragged };
  const frozen = columns.slice(0, listing.frozen).map((column) => column.path);
  const ids = columns.map((column) => column.path).join(' ');
  const definitions = useMemo(
    () => ids.split(' ').map((id) => ({ id, minSize: NARROWEST, maxSize: WIDEST, enableResizing: true })),
    [ids],
  );
  const table = useTable({
    features,
    columns: definitions,
    data: NO_ROWS,
    columnResizeMode: 'onChange',
    state: { columnSizing: widths, columnPinning: { start: frozen, end: [] } },
    onColumnSizingChange: (change) => {
      const next = typeof change === 'function' ? change(widths) : change;
      setDragged(Object.fromEntries(Object.entries(next).filter(([path, size]) => resting[path] !== size)));
    },
  });
  const resizing = table.state.columnResizing.isResizingColumn;
  useEffect(() => {
    if (resizing !== false || Object.keys(dragged).length === 0) return;
    onWidths(dragged);
    setDragged({});
  }, [resizing, dragged, onWidths]);
  const headers = table.getHeaderGroups()[0]?.headers ?? [];
  const stayWidth = before + table.getStartTotalSize();
  const moving = useVirtualizer({
    horizontal: true,
    count: columns.length - frozen.length,
    getScrollElement: () => box.current,
    estimateSize: (at) => widths[columns[frozen.length + at]?.path ?? ''] ?? NARROWEST,
    paddingStart: stayWidth,
    scrollPaddingStart: stayWidth,
    overscan: 3,
  });
  const sizes = columns.map((column) => widths[column.path]).join(' ');
  // biome-ignore lint/correctness/useExhaustiveDependencies: Measures again when a width has changed.
  useEffect(() => moving.measure(), [moving, sizes]);
  const inSight = moving.getVirtualItems();
  const drawn: DrawnColumn[] = [...frozen.keys(), ...inSight.map(({ index }) => frozen.length + index)].flatMap(
    (at, place) => {
      const [column, header] = [columns[at], headers[at]];
      const stays = at < frozen.length ? before + (header?.getStart('start') ?? 0) : undefined;
      // Tracks: the boxes that select, the frozen columns, a gap for what is out of sight to the left, the moving ones.
      const track = place + 2 + (stays === undefined ? 1 : 0);
      return column && header ? [{ column, at, header, stays, track }] : [];
    },
  );
  const px = (size: number): string => `${size}px`;
  const sizeOf = ({ column }: DrawnColumn): string => px(widths[column.path] ?? NARROWEST);
  const style: CSSProperties = {
    gridTemplateColumns: [
      px(before),
      ...drawn.filter((one) => one.stays !== undefined).map(sizeOf),
      px((inSight[0]?.start ?? stayWidth) - stayWidth),
      ...drawn.filter((one) => one.stays === undefined).map(sizeOf),
    ].join(' '),
    minWidth: moving.getTotalSize(),
  };
  return {
    drawn,
    style,
    totalWidth: moving.getTotalSize(),
    widthOf: (path: string): number => widths[path] ?? NARROWEST,
    /** Brings a column into sight. */
    show(at: number): void {
      if (at >= frozen.length) moving.scrollToIndex(at - frozen.length);
    },
  };
}
