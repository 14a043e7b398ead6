/** Civil date and time of the server, to the minute: what `today` and `now` mean in a default. */
export function civilNow(now = new Date()): string {
  const local = new Date(now.getTime() - now.getTimezoneOffset() * 60_000);
  return local.toISOString().slice(0, 16);
}
