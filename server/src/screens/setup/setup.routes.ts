import { setupSteps, type Setup, type SetupStep } from '@kettle/contract';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { changeSetting } from '../../records/settings/index';

/** The first steps of an installation: each is done once what it is about is there. */
export function setupRoutes(services: Services): Pick<Handlers, 'setup' | 'changeSetup'> {
  const { database, settings, channels } = services;

  const read = async (userId: string): Promise<Setup> => {
    const { version, skipped } = (await settings.read(database)).setup;
    const [found] = await database.rows<Record<Exclude<SetupStep, 'mail'>, number>>(
      `SELECT EXISTS (SELECT 1 FROM setting WHERE name = 'organisation') AS organisation,
              EXISTS (SELECT 1 FROM app_user WHERE id = :me AND version > 1) AS hours,
              (SELECT COUNT(*) > 1 FROM app_user WHERE deactivated_at IS NULL) AS people,
              EXISTS (SELECT 1 FROM pipeline WHERE version > 1) AS pipeline,
              EXISTS (SELECT 1 FROM contact) AS contacts`,
      { me: bytesOf(userId) },
    );
    const isDone = (name: SetupStep) =>
      name === 'mail' ? channels.mailOut !== null : Number(found![name]) === 1;
    return {
      version,
      steps: setupSteps.map((name) => ({
        name,
        isDone: isDone(name),
        isSkipped: skipped.includes(name),
      })),
    };
  };
  return {
    setup: ({ who }) => read(who.id),
    changeSetup: async ({ body, who }) => {
      await changeSetting(services, who, { name: 'setup', body });
      return read(who.id);
    },
  };
}
