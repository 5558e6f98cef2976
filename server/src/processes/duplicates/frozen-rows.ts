/** Rows as JSON keeps them: bytes as `{"hex": …}`, so that a row can be put back exactly as it was. */
export type FrozenRow = Record<string, string | number | null | { hex: string }>;
export type LiveRow = Record<string, string | number | null | Buffer>;

export function freeze(row: LiveRow): FrozenRow {
  return Object.fromEntries(
    Object.entries(row).map(([name, value]) => [
      name,
      Buffer.isBuffer(value) ? { hex: value.toString('hex') } : value,
    ]),
  );
}

export function thaw(row: FrozenRow): LiveRow {
  return Object.fromEntries(
    Object.entries(row).map(([name, value]) => [
      name,
      typeof value === 'object' && value !== null ? Buffer.from(value.hex, 'hex') : value,
    ]),
  );
}
