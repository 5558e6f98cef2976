import type { Server } from 'node:http';

/**
 * Stops a server: it takes no new connection, requests that are on their way are answered, and what is still open after a while is cut.
 * @returns how many connections were cut is not known to Node.js; whether any was
 */
export async function closeGently(server: Server, mostMillis: number): Promise<{ readonly wasCut: boolean }> {
  let wasCut = false;
  const closed = new Promise<void>((resolve) => server.close(() => resolve()));
  server.closeIdleConnections();
  const timer = setTimeout(() => {
    wasCut = true;
    server.closeAllConnections();
  }, mostMillis);
  await closed;
  clearTimeout(timer);
  return { wasCut };
}
