import type { Installation } from './installation';

/** Lets reps change what goes out by itself at once, where a test is about something else. */
export async function letRepsRelease(installation: Installation): Promise<void> {
  const admin = await installation.as('admin');
  const rights = await admin.ok('rightsSettings');
  await admin.ok('changeRightsSettings', { body: { ...rights, releases: 'rep' } });
}
