import type { ExchangeRate, OrganisationSettings } from '@kettle/contract';
import { placesOf } from '@kettle/core/money';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { type PersonWork, work, writingAt } from '../../platform/work/work';
import { readWritten } from '../../platform/work/written';
import { noteSecurity } from '../security/index';
import { regionsOf } from './calendars';
import { changeSetting, writeSetting } from './change-setting';
import { mergeSetting } from './merge-setting';
import { settingOf } from './settings';

type Names =
  | 'organisationSettings'
  | 'changeOrganisationSettings'
  | 'holidayRegions'
  | 'roundSettings'
  | 'changeRoundSettings'
  | 'rightsSettings'
  | 'changeRightsSettings';

/** Currency, country and rates of the organisation, and what the Round reckons with. */
export function organisationRoutes(services: Services): Pick<Handlers, Names> {
  const read = async (db: Queryable = services.database): Promise<OrganisationSettings> => ({
    ...(await services.settings.read(db)).organisation,
    rates: await readRates(db),
  });
  return {
    organisationSettings: () => read(),
    changeOrganisationSettings: async ({ body, who }) => {
      await work(services, who, async (w) => {
        await w.rows("SELECT name FROM setting WHERE name = 'organisation' FOR UPDATE");
        const current = await read(w);
        const {
          rates,
          resolved: _,
          ...organisation
        } = await mergeSetting<typeof body>(w, {
          names: ['organisation'],
          asked: body,
          record: current,
          read: (texts) => ({
            ...settingOf('organisation', texts.get('organisation')),
            rates: current.rates,
          }),
          beside: { rates: (setId) => readRatesBefore(w, setId) },
        });
        await writeSetting(w, 'organisation', organisation);
        await keepFigures(w, current.currency, organisation.currency);
        await w.change('DELETE FROM exchange_rate');
        if (rates.length > 0)
          await w.change('INSERT INTO exchange_rate (currency, from_on, rate) VALUES :rows', {
            rows: rates.map(({ currency, from, rate }) => [currency, from, rate]),
          });
        w.say($localize`Organisation changed`);
      });
      return read();
    },
    holidayRegions: async ({ query }) => ({ regions: regionsOf(query.country) }),
    roundSettings: async () => (await services.settings.read(services.database)).round,
    changeRoundSettings: ({ body, who }) =>
      changeSetting(services, who, { name: 'round', body, inParts: ['p0', 'halfDays', 'minutes'] }),
    rightsSettings: async () => (await services.settings.read(services.database)).rights,
    changeRightsSettings: async ({ body, who }) => {
      const saved = await changeSetting(services, who, { name: 'rights', body });
      await noteSecurity(writingAt(services.database, services.clock.now()), {
        kind: 'settings-changed',
        userId: who.id,
        data: { setting: 'rights' },
      });
      return saved;
    },
  };
}

/**
 * What is in the organisation's currency and names none keeps its figure when that currency becomes another one: 450.00 pounds are 450 yen
 * then, not 45,000. Deals and agreements have their own currency and keep it.
 */
async function keepFigures(w: PersonWork, from: string, to: string): Promise<void> {
  const places = placesOf(to) - placesOf(from);
  if (places === 0) return;
  const factor = { factor: 10 ** places };
  await w.change(
    'UPDATE product SET price_minor = ROUND(price_minor * :factor), version = version + 1 WHERE price_minor > 0',
    factor,
  );
  await w.change(
    'UPDATE quota SET amount_minor = ROUND(amount_minor * :factor) WHERE amount_minor > 0',
    factor,
  );
  await w.change(
    `UPDATE custom_value SET number_value = ROUND(number_value * :factor)
      WHERE field_id IN (SELECT id FROM custom_field WHERE type = 'money') AND number_value <> 0`,
    factor,
  );
  await w.change(
    "UPDATE learned SET value = ROUND(value * :factor) WHERE name IN ('usual-deal', 'usual-weighted', 'usual-yearly', 'leadMinor')",
    factor,
  );
  const { round } = await w.settings();
  const same = (minor: number | null) => (minor === null ? null : Math.round(minor * factor.factor));
  const amounts = { promiseMinor: same(round.promiseMinor), leadMinor: same(round.leadMinor) };
  const changed = { ...round, ...amounts };
  await writeSetting(w, 'round', changed);
}

async function readRates(db: Queryable): Promise<ExchangeRate[]> {
  const rows = await db.rows<Row<'exchange_rate', 'currency' | 'from_on' | 'rate'>>(
    'SELECT currency, from_on, rate FROM exchange_rate ORDER BY currency, from_on DESC',
  );
  return rows.map(({ currency, from_on, rate }) => ({ currency, from: from_on, rate: Number(rate) }));
}

/** Each change of the organisation writes all rates anew: what it deleted are those before it. */
async function readRatesBefore(db: Queryable, setId: string): Promise<ExchangeRate[]> {
  return (await readWritten(db, setId))
    .filter(({ table, op }) => table === 'exchange_rate' && op === 'delete')
    .map(({ was }) => ({
      currency: was?.currency ?? '',
      from: was?.from_on ?? '',
      rate: Number(was?.rate),
    }))
    .sort((one, other) =>
      one.currency === other.currency
        ? other.from.localeCompare(one.from)
        : one.currency.localeCompare(other.currency),
    );
}

/** The organisation's own currency first, then those there is a rate for. */
export async function readCurrencies(db: Queryable, own: string): Promise<string[]> {
  const rows = await db.rows<Row<'exchange_rate', 'currency'>>(
    'SELECT DISTINCT currency FROM exchange_rate ORDER BY currency',
  );
  return [own, ...rows.map(({ currency }) => currency).filter((currency) => currency !== own)];
}
