import { addDays, isoWeekday } from '@kettle/core/time';
import { emailKey, nameKey } from '@kettle/core/duplicates';
import { findOutcome } from '@kettle/core/touch';
import { makeScenario } from './scenario';

const today = '2026-11-24';
const scenario = makeScenario(today);
const indexOf = (name: string) =>
  scenario.contacts.findIndex((contact) => `${contact.givenName} ${contact.familyName}` === name);

describe('the demo’s world', () => {
  test('is the same at every making', () => {
    expect(makeScenario(today)).toEqual(scenario);
  });

  test('moves with its day: another day has the same people and the same distances', () => {
    const later = makeScenario('2027-03-02');
    expect(later.contacts).toEqual(scenario.contacts);
    expect(later.deals.filter((deal) => deal.status === 'open')).toHaveLength(45);
  });

  test('is as large as it is meant to be', () => {
    const open = scenario.deals.filter((deal) => deal.status === 'open');
    expect({
      companies: scenario.companies.length,
      contacts: scenario.contacts.length,
      open: open.length,
      closed: scenario.deals.length - open.length,
      agreements: scenario.agreements.length,
      entries: scenario.entries.length,
    }).toEqual({ companies: 58, contacts: 140, open: 45, closed: 200, agreements: 70, entries: 3000 });
  });

  test('names nobody real: mail ends in .example, numbers are reserved for fiction', () => {
    for (const contact of scenario.contacts) {
      expect(contact.email).toMatch(/^[a-z.]+@[a-z]+\.example$/);
      if (contact.phone !== null)
        expect(contact.phone).toMatch(/^\+(441632960\d{3}|447700900\d{3}|35320910\d{4})$/);
    }
  });

  test('has no two people with one address, but for the pair that was typed twice', () => {
    const addresses = scenario.contacts.map((contact) => emailKey(contact.email));
    expect(new Set(addresses).size).toBe(addresses.length);
    expect([indexOf('Nell Harker'), indexOf('Nel Harker')].every((index) => index >= 0)).toBe(true);
    expect(scenario.contacts[indexOf('Nell Harker')]!.company).toBe(
      scenario.contacts[indexOf('Nel Harker')]!.company,
    );
  });

  test('every firm stands once', () => {
    const names = scenario.companies.map((company) => nameKey(company.name));
    expect(new Set(names).size).toBe(names.length);
  });
});

describe('its story', () => {
  test('an answer waits that came this morning', () => {
    const latest = scenario.entries
      .filter((entry) => entry.contact === indexOf('Tomas Quillen'))
      .sort((a, b) => a.daysAgo - b.daysAgo)[0];
    expect(latest).toMatchObject({ daysAgo: 0, outcome: 'email-came-in' });
  });

  test('no other letter waits', () => {
    const waiting = scenario.entries.filter(
      (entry) => entry.outcome === 'email-came-in' && entry.daysAgo < 300,
    );
    expect(waiting.map((entry) => entry.contact)).toEqual([indexOf('Tomas Quillen')]);
  });

  test('a call is promised for ten, a notice closes within the week, a deal was left loose', () => {
    expect(scenario.tasks.find((task) => task.promisedMinute === 600)).toMatchObject({
      contact: indexOf('Maud Ellery'),
      inDays: 0,
    });
    const ines = scenario.agreements.find(
      (agreement) => agreement.contact === indexOf('Ines Prado') && agreement.noticeDays === 60,
    )!;
    expect(addDays(today, 66)).toBe(addDays(ines.startsOn, 365));
    const kiln = scenario.deals.findIndex((deal) => deal.name === 'Kiln Lane: filtration');
    expect(scenario.tasks.some((task) => task.deal === kiln)).toBe(false);
  });

  test('one rep has far more to do than the others', () => {
    const due = [0, 1, 2, 3].map(
      (owner) =>
        scenario.tasks.filter((task) => task.inDays <= 0 && scenario.contacts[task.contact]!.owner === owner)
          .length,
    );
    expect(due[0]!).toBeGreaterThan(2 * Math.max(...due.slice(1)));
  });
});

describe('what has happened', () => {
  test('happened on working days, inside the day, with outcomes that exist', () => {
    for (const entry of scenario.entries) {
      expect(findOutcome(entry.outcome)).toBeDefined();
      expect(entry.minute).toBeGreaterThanOrEqual(7 * 60);
      expect(entry.minute).toBeLessThan(18 * 60);
      expect(isoWeekday(addDays(today, -entry.daysAgo))).toBeLessThanOrEqual(5);
    }
  });

  test('is about people and deals that are there', () => {
    for (const { contact } of [
      ...scenario.entries,
      ...scenario.deals,
      ...scenario.agreements,
      ...scenario.tasks,
      ...scenario.runs,
      ...scenario.pastRuns,
    ])
      expect(scenario.contacts[contact]).toBeDefined();
    for (const { deal, contact } of scenario.tasks)
      if (deal !== null) expect(scenario.deals[deal]!.contact).toBe(contact);
  });

  test('nothing is planned for a weekend, and nobody is twice on a cadence', () => {
    for (const task of scenario.tasks) expect(isoWeekday(addDays(today, task.inDays))).toBeLessThanOrEqual(5);
    expect(new Set(scenario.runs.map((run) => run.contact)).size).toBe(scenario.runs.length);
  });
});
