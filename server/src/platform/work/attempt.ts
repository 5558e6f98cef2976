import { Problem } from '../problem';
import type { Writing } from './work';

/**
 * Tries one of several in a unit of work: what a refused one had written already is rolled back, without the others.
 * @returns why it was refused; null when it was done
 * @throws whatever is no refusal, and `database-away`
 */
export async function attempt(w: Pick<Writing, 'change'>, act: () => Promise<void>): Promise<Problem | null> {
  await w.change('SAVEPOINT attempt');
  try {
    await act();
    return null;
  } catch (error) {
    if (!(error instanceof Problem) || error.code === 'database-away') throw error;
    await w.change('ROLLBACK TO SAVEPOINT attempt');
    return error;
  }
}
