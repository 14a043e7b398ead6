import type { TaskView } from '@fiche/core/api';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { send } from './http.ts';

export const isOver = (task: TaskView): boolean => task.state !== 'waiting' && task.state !== 'running';

/** Follows a work in the background until it is over, and then tells so once. */
export function useTask(
  cabinet: string,
  task: TaskView | undefined,
  onOver: (task: TaskView) => void,
): TaskView | undefined {
  const told = useRef<number>(undefined);
  const query = useQuery({
    queryKey: ['task', cabinet, task?.id],
    queryFn: () => send<TaskView>('GET', `/api/cabinets/${cabinet}/tasks/${task?.id}`),
    enabled: task !== undefined,
    initialData: task,
    refetchInterval: (one) => (one.state.data && isOver(one.state.data) ? false : 400),
  });
  const { data: now } = query;
  useEffect(() => {
    if (!task || !now || now.id !== task.id || !isOver(now) || told.current === now.id) return;
    told.current = now.id;
    onOver(now);
  });
  return task && now?.id === task.id ? now : task;
}

/** Asks a work to stop. */
export const cancelTask = (cabinet: string, id: number): Promise<TaskView> =>
  send<TaskView>('POST', `/api/cabinets/${cabinet}/tasks/${id}/cancel`, {});
