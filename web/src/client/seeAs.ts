import { send } from './http.ts';

/** Sees a cabinet as a role has it; everything that was read is read anew under it. */
export async function seeCabinetAs(cabinet: string, role: string): Promise<void> {
  await send('PUT', '/api/session/seen-as', { cabinet, role });
  window.location.assign(`/${cabinet}/home`);
}

/** Sees the cabinet under one’s own role again. */
export async function stopSeeingAs(cabinet: string): Promise<void> {
  await send('DELETE', '/api/session/seen-as');
  window.location.assign(`/${cabinet}/people`);
}
