import type { Keys } from '../../services/keys';
import type { LateDialog } from '../../kit/late-dialog';
import type { JotData } from './jot-dialog';

/** Opens the one line; what is typed while it is on its way is its beginning. */
export async function openJot(dialogs: LateDialog, keys: Keys, aboutId: string | null): Promise<void> {
  const { take: takeTyped } = keys.collect();
  try {
    const { JotDialog } = await import('./jot-dialog');
    await dialogs.open(JotDialog, {
      data: { aboutId, takeTyped } satisfies JotData,
      width: '680px',
      maxWidth: '96vw',
      position: { top: '64px' },
      ariaLabel: $localize`Jot one line`,
    });
  } catch (error) {
    takeTyped();
    throw error;
  }
}
