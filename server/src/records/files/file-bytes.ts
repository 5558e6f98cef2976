import type { Queryable } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';

/** A whole stored file; only for what is small enough to hold, such as attachments. */
export async function readFileBytes(db: Queryable, fileId: string): Promise<Buffer> {
  const parts = await db.rows<Row<'file_part', 'bytes'>>(
    'SELECT bytes FROM file_part WHERE file_id = :id ORDER BY number',
    { id: bytesOf(fileId) },
  );
  return Buffer.concat(parts.map((part) => part.bytes));
}

/** Where the bytes of files lie: in an archive they are files of their own. */
export const filesBeside = { table: 'file_part', id: 'file_id', order: 'number', bytes: 'bytes' } as const;
