import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { FormsModule } from '@angular/forms';
import { MatDatepickerInputHarness } from '@angular/material/datepicker/testing';
import { MatFormFieldHarness } from '@angular/material/form-field/testing';
import { MatTimepickerInputHarness } from '@angular/material/timepicker/testing';
import { showPart } from '../../testing/part';
import { DayField } from './day-field';
import { choiceParts } from './choice';
import { FileField } from './file-field';
import { LongChoiceField } from './long-choice-field';
import { MomentField } from './moment-field';
import { NumberField } from './number-field';
import { PhoneField } from './phone-field';
import { countryOptions, zoneOptions } from './places';
import { TimeField } from './time-field';

const leave = async (part: { settle(): Promise<void> }, box: HTMLInputElement) => {
  box.dispatchEvent(new Event('blur'));
  await part.settle();
};

describe('a day', () => {
  const show = async (inputs: object = {}) => {
    const part = await showPart(DayField, { inputs: { label: 'Due', ...inputs } });
    const said: string[] = [];
    part.shown.value.subscribe((day) => said.push(day));
    return { part, said, box: part.field('Due') };
  };

  test('is read as it is typed, and shown in full once it is left', async () => {
    const { part, said, box } = await show();
    await part.type(box, '3/12');
    expect(said).toEqual(['2026-12-03']);
    await leave(part, box);
    expect(box.value).toBe('Thu 3 Dec 2026');
    await leave(part, box);
    expect(said).toEqual(['2026-12-03']);
  });

  test('half typed it is none, and nothing typed is lost', async () => {
    const { part, said, box } = await show({ value: '2026-12-03' });
    expect(box.value).toBe('Thu 3 Dec 2026');
    await part.type(box, 'next fr');
    expect([said, box.value]).toEqual([[''], 'next fr']);
    expect(part.root.querySelector('mat-error')).toBeNull();
    await leave(part, box);
    expect(part.root.querySelector('mat-error')!.textContent).toContain('Write a day: 3 Dec');
    expect([box.value, box.getAttribute('aria-invalid')]).toEqual(['next fr', 'true']);
    await part.type(box, 'fri');
    expect([said.at(-1), part.root.querySelector('mat-error')]).toEqual(['2026-11-27', null]);
  });

  test('what the server refused is told at the box and to the screen reader', async () => {
    const { part, box } = await show({ problem: 'must not lie in the past' });
    const error = part.root.querySelector('mat-error')!;
    expect(error.textContent).toContain('must not lie in the past');
    expect(box.getAttribute('aria-describedby')).toContain(error.id);
    expect(box.getAttribute('aria-invalid')).toBe('true');
  });

  test('a day off is warned of where days are planned, not elsewhere', async () => {
    const { part } = await show({ value: '2026-11-28', warns: true });
    expect(part.root.textContent).toContain('Saturday, a day off.');
    part.fixture.componentRef.setInput('warns', false);
    await part.settle();
    expect(part.root.textContent).not.toContain('Saturday');
  });

  test('the calendar begins with Monday, marks days off and offers the days often meant', async () => {
    const { part, said } = await show({ min: '2026-11-25' });
    const input = await TestbedHarnessEnvironment.loader(part.fixture).getHarness(MatDatepickerInputHarness);
    await input.openCalendar();
    const panel = document.querySelector('mat-calendar')!;
    expect(panel.querySelector('th[scope=col]')!.textContent).toContain('M');
    expect(panel.querySelectorAll('.day-off').length).toBeGreaterThan(7);
    const quick = [...panel.querySelectorAll<HTMLButtonElement>('.quick button')];
    // Today lies before the least day that may be picked.
    expect(quick.map((each) => each.textContent.trim())).toEqual(['Tomorrow', 'In a week', 'Next quarter']);
    await part.click(quick[1]!);
    expect(said).toEqual(['2026-12-01']);
    expect(await input.isCalendarOpen()).toBe(false);
  });
});

/** jsdom scrolls nothing. */
beforeAll(() => (Element.prototype.scrollIntoView = () => undefined));

describe('a time', () => {
  const show = async () => {
    const part = await showPart(TimeField, { inputs: { label: 'At', value: '09:30' } });
    const said: string[] = [];
    part.shown.value.subscribe((time) => said.push(time));
    return { part, said, box: part.field('At') };
  };

  test('is read as it is typed; what is none is said once it is left', async () => {
    const { part, said, box } = await show();
    expect(box.value).toBe('09:30');
    await part.type(box, '2pm');
    expect(said).toEqual(['14:00']);
    await part.type(box, 'noonish');
    await leave(part, box);
    expect(part.root.querySelector('mat-error')!.textContent).toContain('Write a time');
    expect([said.at(-1), box.value]).toEqual(['', 'noonish']);
  });

  test('is picked from the quarters of an hour', async () => {
    const { part, said } = await show();
    const input = await TestbedHarnessEnvironment.loader(part.fixture).getHarness(MatTimepickerInputHarness);
    const list = await input.openTimepicker();
    expect((await list.getOptions()).length).toBe(96);
    await list.selectOption({ text: '10:15' });
    expect(said).toEqual(['10:15']);
  });
});

describe('a day with its time', () => {
  test('a day alone gets the time it is now, a time alone today; emptied it is none', async () => {
    const part = await showPart(MomentField, { inputs: { label: 'When' } });
    const said: string[] = [];
    part.shown.value.subscribe((moment) => said.push(moment));
    await part.type(part.field('When'), '20/11/2026');
    expect(said.at(-1)).toMatch(/^2026-11-20T09:1\d$/);
    await part.type(part.field('Time'), '1430');
    expect(said.at(-1)).toBe('2026-11-20T14:30');
    await part.type(part.field('When'), '');
    expect(said.at(-1)).toBe('');
    await part.type(part.field('Time'), '8');
    expect(said.at(-1)).toBe('2026-11-24T08:00');
  });
});

@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts, FormsModule],
  template: `
    <mat-form-field>
      <mat-label>Stage</mat-label>
      <mat-select [ngModel]="stage()" (ngModelChange)="stage.set($event)" [kettleProblem]="problem()">
        <mat-option [value]="null">as it is</mat-option>
        <mat-option value="a">Inquiry</mat-option>
        <mat-option value="b">Offer</mat-option>
      </mat-select>
      @if (problem(); as words) {
        <mat-error>{{ words }}</mat-error>
      }
    </mat-form-field>
  `,
})
class Host {
  readonly stage = signal<string | null>('a');
  readonly problem = signal<string | null>(null);
}

test('a choice has its name above, is chosen by keys, and says what is wrong with it', async () => {
  const part = await showPart(Host);
  const field = await TestbedHarnessEnvironment.loader(part.fixture).getHarness(MatFormFieldHarness);
  expect([await field.getLabel(), await field.getAppearance()]).toEqual(['Stage', 'outline']);
  const list = part.field<HTMLElement>('Stage');
  list.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', keyCode: 40, bubbles: true }));
  await part.settle();
  expect(part.shown.stage()).toBe('b');
  expect(await field.hasErrors()).toBe(false);
  part.shown.problem.set('must be a stage of this pipeline');
  await part.settle();
  expect(await field.getTextErrors()).toEqual(['must be a stage of this pipeline']);
  expect(list.getAttribute('aria-invalid')).toBe('true');
});

test('a choice of nothing is shown by its name', async () => {
  const part = await showPart(Host);
  part.shown.stage.set(null);
  await part.settle();
  await part.settle();
  expect(part.field<HTMLElement>('Stage').textContent).toContain('as it is');
});

describe('files', () => {
  const file = (name: string) => new File(['x'], name);
  const show = async (inputs: object = {}) => {
    const part = await showPart(FileField, { inputs: { label: 'Choose files', ...inputs } });
    const said: string[][] = [];
    part.shown.chosen.subscribe((files) => said.push(files.map(({ name }) => name)));
    const drop = (...files: File[]) => {
      const event = new Event('drop', { bubbles: true, cancelable: true });
      Object.assign(event, { dataTransfer: { files } });
      part.root.dispatchEvent(event);
      return event;
    };
    return { part, said, drop };
  };

  test('are dropped: several where several may be, else the first', async () => {
    const { said, drop } = await show({ multiple: true });
    expect(drop(file('a'), file('b')).defaultPrevented).toBe(true);
    expect(said).toEqual([['a', 'b']]);
  });

  test('only the first is taken where one is meant, and nothing is told of none', async () => {
    const { said, drop } = await show();
    drop(file('a'), file('b'));
    drop();
    expect(said).toEqual([['a']]);
  });

  test('are not taken while it is busy', async () => {
    const { said, drop } = await show({ disabled: true });
    drop(file('a'));
    expect(said).toEqual([]);
  });

  test('the button opens the machine’s own window', async () => {
    const { part } = await show();
    const box = part.root.querySelector<HTMLInputElement>('input[type=file]')!;
    const pressed = jest.spyOn(box, 'click');
    await part.click(part.button('Choose files'));
    expect(pressed).toHaveBeenCalledTimes(1);
  });
});

describe('a telephone number', () => {
  const show = async (inputs: object = {}) => {
    const part = await showPart(PhoneField, { inputs: { label: 'Phone', ...inputs } });
    const said: string[] = [];
    part.shown.value.subscribe((number) => said.push(number));
    // The rules of all countries come after the first number.
    await import('@kettle/core/phone');
    await part.settle();
    return { part, said, box: part.field('Phone') };
  };

  test('is typed as at home, and stands with its country once it is left', async () => {
    const { part, said, box } = await show();
    await part.type(box, '01632 960 012');
    expect([said.at(-1), box.value]).toEqual(['+441632960012', '01632 960 012']);
    await leave(part, box);
    expect(box.value).toBe('+44 1632 960012');
  });

  test('is read as one of the country it belongs to', async () => {
    const { part, said, box } = await show({ country: 'DE' });
    await part.type(box, '030 901820');
    expect(said.at(-1)).toBe('+4930901820');
  });

  test('that is none says what to write, and stays as it was typed', async () => {
    const { part, said, box } = await show({ value: '+441632960012' });
    expect(box.value).toBe('+44 1632 960012');
    await part.type(box, '12');
    await leave(part, box);
    expect([said.at(-1), box.value]).toEqual(['', '12']);
    expect(part.root.querySelector('mat-error')!.textContent).toContain('whole telephone number');
  });
});

test('an amount is shown and read as in the country of whoever is signed in', async () => {
  const part = await showPart(NumberField, {
    country: 'DE',
    inputs: { label: 'Value', kind: 'money', value: 440_050 },
  });
  const said: unknown[] = [];
  part.shown.value.subscribe((amount) => said.push(amount));
  expect(part.field('Value').value).toBe('4.400,50');
  await part.type(part.field('Value'), '5.000');
  expect(said).toEqual([500_000]);
  await part.type(part.field('Value'), 'viel');
  await leave(part, part.field('Value') as HTMLInputElement);
  expect(part.root.querySelector('mat-error')!.textContent).toContain('such as 4.400 or 12,5k');
});

test('an amount is of its currency: with another one what was typed is read anew', async () => {
  const part = await showPart(NumberField, {
    inputs: { label: 'Value', kind: 'money', currency: 'KWD', value: 1_234_500 },
  });
  const box = part.field('Value') as HTMLInputElement;
  const said: unknown[] = [];
  part.shown.value.subscribe((amount) => said.push(amount));
  expect(box.value).toBe('1,234.500');
  await part.type(box, '4,400');
  part.fixture.componentRef.setInput('currency', 'JPY');
  await part.settle();
  expect([said, box.value]).toEqual([[4_400_000, 4400], '4,400']);
  await part.type(box, '4,400.50');
  await leave(part, box);
  expect([said.at(-1), part.root.querySelector('mat-error')!.textContent]).toEqual([
    null,
    'must be an amount in JPY such as 4,400 or 12.5k',
  ]);
  await part.type(box, '£4,400');
  expect(said.at(-1)).toBeNull();
});

describe('one of very many', () => {
  const show = async (inputs: object = {}) => {
    const options = countryOptions('from the site');
    const part = await showPart(LongChoiceField, { inputs: { label: 'Country', options, ...inputs } });
    const said: string[] = [];
    part.shown.value.subscribe((country) => said.push(country));
    return { part, said, box: part.field('Country') as HTMLInputElement };
  };
  const listed = () =>
    [...document.querySelectorAll('mat-option')].map((option) => option.textContent.trim());

  test('is shown by its name, narrowed by what is typed, accents or not, and picked', async () => {
    const { part, said, box } = await show({ value: 'DE' });
    expect(box.value).toBe('Germany');
    box.dispatchEvent(new Event('focusin'));
    await part.type(box, 'cote');
    expect(listed()).toEqual(['Côte d’Ivoire']);
    document.querySelector<HTMLElement>('mat-option')!.click();
    await part.settle();
    expect([said.at(-1), box.value]).toEqual(['CI', 'Côte d’Ivoire']);
  });

  test('is known by its code too; what begins so stands before what holds it', async () => {
    const { part, said, box } = await show();
    expect(box.placeholder).toBe('from the site');
    box.dispatchEvent(new Event('focusin'));
    await part.type(box, 'united');
    expect(listed()[0]).toBe('United Arab Emirates');
    expect(listed().at(-1)).toBe('United States');
    await part.type(box, 'gb');
    await leave(part, box);
    expect([said.at(-1), box.value]).toEqual(['GB', 'United Kingdom']);
  });

  test('what is in no list is said, and stays as it was typed; emptied it is what none means', async () => {
    const { part, said, box } = await show({ value: 'DE' });
    await part.type(box, 'Atlantis');
    await leave(part, box);
    expect([said.at(-1), box.value]).toEqual(['', 'Atlantis']);
    expect(part.root.querySelector('mat-error')!.textContent).toContain('must be one of the list');
    await part.type(box, '');
    await leave(part, box);
    expect([said.at(-1), part.root.querySelector('mat-error')]).toEqual(['', null]);
  });

  test('countries are those of ISO 3166, without what Unicode names besides; zones have their own', () => {
    const codes = countryOptions().map(({ value }) => value);
    expect(codes).toEqual(expect.arrayContaining(['GB', 'DE', 'US', 'KR', 'ZA', 'XK']));
    expect(codes).not.toEqual(expect.arrayContaining(['EU']));
    expect(codes.filter((code) => ['EU', 'UN', 'ZZ', 'SU', 'YU', 'UK'].includes(code))).toEqual([]);
    expect(zoneOptions('Mars/Olympus', 'from the country').slice(0, 2)).toEqual([
      { value: '', words: 'from the country' },
      { value: 'Mars/Olympus', words: 'Mars/Olympus' },
    ]);
  });
});
