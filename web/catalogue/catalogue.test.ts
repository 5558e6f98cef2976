import { ComponentHarness, TestKey } from '@angular/cdk/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import {
  ChartHarness,
  ChoiceFieldHarness,
  DayFieldHarness,
  DayProposalsHarness,
  DialogFormHarness,
  EmptyHarness,
  FailedHarness,
  FileFieldHarness,
  LightFieldHarness,
  LongChoiceFieldHarness,
  MomentFieldHarness,
  NumberFieldHarness,
  OrderHandleHarness,
  PageFormHarness,
  PhoneFieldHarness,
  ProposedFieldHarness,
  StepDayHarness,
  TableHarness,
  TagsFieldHarness,
  TetherHarness,
  TextFieldHarness,
  TimeFieldHarness,
  type TypedHarness,
  WaitingHarness,
  WhyNotHarness,
} from '../testing/kit';
import { showPart } from '../testing/part';
import { Catalogue } from './catalogue';

/** jsdom draws nothing: the numbers of a chart stand below it. */
jest.mock('../src/kit/chart-parts', () => {
  throw new Error('away');
});

/** The button that opens the dialog of the catalogue. */
class DialogOpener extends ComponentHarness {
  static readonly hostSelector = 'button.opens';
  open = async (): Promise<void> => (await this.host()).click();
}

/** Each part of the kit as a person meets it, by its harness, on the page that shows all of them. */
async function show() {
  const { fixture } = await showPart(Catalogue, { inputs: { themes: ['light'] } });
  const kit = TestbedHarnessEnvironment.loader(fixture);
  // What opens over the page.
  return { fixture, kit, over: TestbedHarnessEnvironment.documentRootLoader(fixture) };
}

test('a field that is typed into has its name, takes what is typed, and is off where its form is', async () => {
  const { kit } = await show();
  for (const [Field, label, text] of [
    [TextFieldHarness, 'Note', 'by half past nine'],
    [ProposedFieldHarness, 'Name', 'Dosing set'],
    [NumberFieldHarness, 'Value, GBP', '4,500'],
    [PhoneFieldHarness, 'Phone', '+44 1632 960099'],
    [TimeFieldHarness, 'Promised for a time?', '14:30'],
    [LongChoiceFieldHarness, 'Country', 'Portugal'],
    [DayFieldHarness, 'When', 'Fri 4 Dec 2026'],
    [LightFieldHarness, 'E-mail address', 'ada@hollinbeck.example'],
  ] as const) {
    const fields = await kit.getAllHarnesses<TypedHarness>(Field.with({ label }));
    await fields[0]!.type(text);
    await fields[0]!.leave();
    expect(await fields[0]!.text()).toBe(text);
    const off = await Promise.all(fields.map((each) => each.isDisabled()));
    expect([label, off.filter(Boolean)]).toEqual([label, [true]]);
  }
});

test('what is wrong is said at the field, and gone once it is right', async () => {
  const { kit } = await show();
  const form = await kit.getHarness(PageFormHarness);
  await form.send();
  const name = await kit.getHarness(TextFieldHarness.with({ label: 'Name' }));
  expect([await name.isRequired(), await name.problem()]).toEqual([true, 'is missing']);
  await name.type('Warm leads');
  expect(await name.problem()).toBeNull();
  const chance = await kit.getHarness(NumberFieldHarness.with({ label: 'Chance' }));
  expect(await chance.unit()).toBe('%');
  await chance.type('140');
  await chance.leave();
  expect(await chance.problem()).toContain('100');
  const moment = await kit.getHarness(MomentFieldHarness);
  const [day, time] = [await moment.day(), await moment.time()];
  expect([await day.label(), await time.label()]).toEqual(['When', 'Time']);
  await time.type('soon');
  await time.leave();
  expect(await time.problem()).not.toBeNull();
});

test('what is chosen: proposals that narrow, groups, a day in the calendar, tags, files, days', async () => {
  const { kit } = await show();
  const [proposed] = await kit.getAllHarnesses(ProposedFieldHarness);
  await proposed!.type('softener');
  expect(await proposed!.proposals()).toEqual(['Softener, single column', 'Softener, twin column']);
  await proposed!.take(/single/);
  expect(await proposed!.text()).toBe('Softener, single column');
  const [standing] = await kit.getAllHarnesses(ChoiceFieldHarness);
  expect(await standing!.choices()).toEqual(['Customer', 'Key customer', 'New']);
  await standing!.choose('New');
  expect(await standing!.chosen()).toBe('New');
  const [when] = await kit.getAllHarnesses(DayFieldHarness);
  await when!.pick('6');
  expect(await when!.hint()).toBe('Sunday, a day off.');
  const all = await kit.getAllHarnesses(TagsFieldHarness);
  const tags = (
    await Promise.all(all.map(async (each) => ((await each.tags()).length > 0 ? each : null)))
  ).find((each) => each !== null)!;
  await tags.add('steam');
  await tags.remove('two shifts');
  expect(await tags.tags()).toEqual(['hard water', 'steam']);
  const files = await kit.getHarness(FileFieldHarness);
  expect([await files.label(), await files.isDisabled()]).toEqual(['Choose files', false]);
  const days = await (await kit.getHarness(DayProposalsHarness)).days();
  expect(days.length).toBeGreaterThan(3);
  expect(days.join()).not.toMatch(/Sat|Sun/);
});

test('a dialog asks whose value holds where two changed it, and is sent once more with the choice', async () => {
  const { kit, over } = await show();
  await (await kit.getHarness(DialogOpener)).open();
  const form = await over.getHarness(DialogFormHarness);
  expect(await form.title()).toBe('Change the deal');
  await form.send();
  expect(await form.problem()).toBe('Somebody changed this while you worked on it.');
  const conflicts = await form.conflicts();
  expect(await conflicts.fields()).toEqual(['Value was changed by Corin Vale meanwhile']);
  await conflicts.choose(0, 'theirs');
  await form.send();
  expect(await over.getAllHarnesses(DialogFormHarness)).toEqual([]);
});

test('lists: a table with its heads, rows and words; a chart’s numbers; an order by press and by arrow keys', async () => {
  const { kit, fixture } = await show();
  const cadences = await kit.getHarness(TableHarness.with({ label: 'Cadences' }));
  expect(await cadences.heads()).toEqual(['name', 'steps', 'acts']);
  const rows = await cadences.rows();
  expect(rows[0]!.slice(0, 2)).toEqual(['First contact', '6']);
  expect(rows.at(-1)).toEqual(['A new version waits for release by Dara Finch.']);
  const none = await kit.getHarness(TableHarness.with({ label: 'No cadences' }));
  expect(await none.rows()).toEqual([['No cadence yet. Create one, and start people.']]);
  const [chart] = await kit.getAllHarnesses(ChartHarness);
  expect(await chart!.label()).toContain('Deals by quarter');
  const numbers = await chart!.numbers();
  expect(await numbers.heads()).toEqual(['quarter', 'won', 'lost', 'open']);
  expect((await numbers.rows())[0]).toEqual(['Q1', '12', '5', '2']);
  const root = fixture.nativeElement as HTMLElement;
  const names = () => [...root.querySelectorAll('[cdkDrag]')].map((each) => each.textContent.trim());
  await (await kit.getAllHarnesses(OrderHandleHarness))[0]!.move(1);
  expect(names()).toEqual(['Survey', 'Inquiry', 'Offer']);
  await (await kit.getAllHarnesses(OrderHandleHarness))[1]!.press(TestKey.UP_ARROW);
  expect(names()).toEqual(['Inquiry', 'Survey', 'Offer']);
});

test('what is told: tether, the day of a step, why a button is off, nothing there, failed, on its way', async () => {
  const { kit } = await show();
  const tethers = await kit.getAllHarnesses(TetherHarness);
  expect(await Promise.all(tethers.map((each) => each.state()))).toMatchObject([
    'late',
    'today',
    'held',
    'loose',
    'loose',
  ]);
  expect(await tethers[4]!.words()).toBe('never touched; no next step');
  const days = await kit.getAllHarnesses(StepDayHarness);
  expect(await days[1]!.words()).toBe('none');
  const button = await kit.getHarness(WhyNotHarness);
  expect(await button.isOff()).toBe(true);
  await button.press();
  expect(document.querySelector('.cdk-overlay-container')!.textContent).toContain('Write something first.');
  const empty = await kit.getHarness(EmptyHarness);
  expect([await empty.title(), await empty.words()]).toEqual([
    'No task here',
    'Plan one from any person or deal.',
  ]);
  expect(await (await kit.getHarness(FailedHarness)).words()).toContain('The server cannot be reached.');
  expect(await (await kit.getHarness(WaitingHarness)).words()).toBe('Reading …');
});
