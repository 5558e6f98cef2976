import type { Connection } from 'mysql2/promise';
export function copyScript(
  connection: Connection,
  from: string,
  options?: { readonly rowsOf?: readonly string[] },
): Promise<string>;
