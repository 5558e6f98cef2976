import type { Row } from '../../platform/database/schema.generated';
import type { Work } from '../../platform/work/work';

/** The next of a series; whoever asks beside it waits for this transaction, so that none is left out. */
export async function nextNumber(w: Work, name: string): Promise<number> {
  await w.change(
    'INSERT INTO number_series (name, last_number) VALUES (:name, 1) ON DUPLICATE KEY UPDATE last_number = last_number + 1',
    { name },
  );
  const [row] = await w.rows<Row<'number_series', 'last_number'>>(
    'SELECT last_number FROM number_series WHERE name = :name FOR UPDATE',
    { name },
  );
  return row!.last_number;
}
