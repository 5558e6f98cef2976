import { ChangeDetectionStrategy, Component } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import type { CustomField } from '@kettle/contract';
import fc from 'fast-check';
import { ApiProblem } from '../../api/api';
import { aRow, showPart } from '../../../testing/part';
import { field, RecordForm } from '../../kit/form';
import { CustomInputs } from './custom-inputs';
import { addCustomControls, customControls, readCustom } from './custom-controls';
import { leadPlain } from '@kettle/contract/base/catalogues';
import { CompanyPicker } from './company-picker';
import { PersonPicker } from './person-picker';
import { PlainInputs, plainControls } from './plain-inputs';

const aField = (type: CustomField['type'], part: object = {}): CustomField =>
  ({
    id: type,
    subject: 'deal',
    name: `The ${type}`,
    type,
    choices: ['mains', 'borehole'],
    isRetired: false,
    version: 1,
    ...part,
  }) as never;
const all = (['text', 'number', 'money', 'date', 'choice', 'yes-no', 'link'] as const).map((type) =>
  aField(type),
);

describe('what is typed into an organisation’s own fields', () => {
  const typed = (texts: Record<string, string>) => {
    const controls = customControls();
    for (const [id, text] of Object.entries(texts)) controls.addControl(id, field(text));
    return controls;
  };
  const read = (texts: Record<string, string>, before = {}) => readCustom(typed(texts), all, before, 'GBP');

  test.each([
    ['number', '12.5', 12.5],
    ['money', '1,250.50', 125_050],
    ['date', '2026-12-24', '2026-12-24'],
    ['choice', 'mains', 'mains'],
    ['yes-no', 'yes', true],
    ['yes-no', 'no', false],
    ['text', '  hard  ', 'hard'],
  ])('%s “%s” is %j', (field, text, value) => {
    expect(read({ [field]: text })).toEqual({ [field]: value });
  });

  test.each([
    ['number', 'deep'],
    ['money', 'a lot'],
    ['date', '31 February'],
    ['choice', 'river'],
  ])('%s “%s” is refused at its field, by its name', (field, text) => {
    const refused = read({ [field]: text }) as ApiProblem;
    expect(refused).toBeInstanceOf(ApiProblem);
    expect(refused.of(`custom.${field}`)).not.toBeNull();
    expect(refused.message).toContain(`The ${field}`);
  });

  test('only what differs from before is sent, and an emptied one is sent as empty', () => {
    const before = { number: 12, text: 'hard', choice: 'mains' };
    expect(read({ number: '12', text: 'soft', choice: '' }, before)).toEqual({ text: 'soft', choice: null });
  });

  test('a field that was not on screen yet is not emptied', () => {
    expect(read({}, { number: 12 })).toEqual({});
  });

  test('what was stored is shown and read back unchanged', () => {
    const values = fc.record({
      number: fc.option(fc.integer({ min: -9999, max: 9999 })),
      money: fc.option(fc.integer({ min: 0, max: 99_999_999 })),
      choice: fc.option(fc.constantFrom('mains', 'borehole')),
      'yes-no': fc.option(fc.boolean()),
      date: fc.option(fc.constantFrom('2026-02-28', '2027-12-31')),
    });
    fc.assert(
      fc.property(values, (stored) => {
        const controls = customControls();
        addCustomControls(controls, stored, all, 'JPY');
        expect(readCustom(controls, all, stored, 'JPY')).toEqual({});
      }),
    );
  });

  test('what is being typed is not overwritten when the fields come late', () => {
    const controls = typed({ text: 'being typed' });
    addCustomControls(controls, { text: 'stored', number: 3 }, all, 'GBP');
    expect(controls.value).toMatchObject({ text: 'being typed', number: '3' });
  });
});

@Component({
  selector: 'kettle-test-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ReactiveFormsModule, CustomInputs],
  template: `
    <kettle-custom-inputs [fields]="fields" [controls]="form.controls.custom" />
  `,
})
class Host {
  readonly fields = [aField('text'), aField('choice'), aField('yes-no'), aField('date')];
  readonly form = new RecordForm({ custom: customControls() });
  constructor() {
    addCustomControls(this.form.controls.custom, { text: 'hard', choice: 'borehole' }, this.fields, 'GBP');
    this.form.submission.problem.set(
      new ApiProblem('invalid-request', 'Check.', [{ path: 'custom.date', message: 'must be a date' }]),
    );
  }
}

test('each field has the control of its type, its value, and what is wrong with it', async () => {
  const part = await showPart(Host);
  const fieldOf = (name: string) => part.field<HTMLElement>(`The ${name}`).closest('mat-form-field')!;
  expect([part.field('The text').value, fieldOf('choice').textContent]).toEqual([
    'hard',
    expect.stringContaining('borehole'),
  ]);
  expect(await part.choicesOf('The yes-no')).toEqual(['—', 'yes', 'no']);
  expect(part.field('The date').closest('kettle-day-field')).toBeTruthy();
  expect(fieldOf('date').textContent).toContain('must be a date');
  expect(fieldOf('text').textContent).not.toContain('must be');
  await part.type(part.field('The text'), 'very hard');
  expect(part.shown.form.getRawValue().custom['text']).toBe('very hard');
});

describe('a person is picked', () => {
  const show = async (inputs: object = {}) => {
    const part = await showPart(PersonPicker, { inputs: { label: 'Who signs', ...inputs } });
    const picked: string[] = [];
    part.shown.picked.subscribe((id) => picked.push(id));
    const box = part.field('Who signs');
    const look = async (text: string) => {
      box.focus();
      box.value = text;
      box.dispatchEvent(new Event('input'));
      await part.pass(170);
    };
    const press = async (key: string) => {
      const keyCode = { ArrowDown: 40, Enter: 13, Escape: 27 }[key];
      box.dispatchEvent(new KeyboardEvent('keydown', { key, keyCode, bubbles: true, cancelable: true }));
      await part.settle();
    };
    const rows = [aRow({ id: 'a', name: 'Maud Ellery' }), aRow({ id: 'b', name: 'Maud Thorne' })];
    return { part, picked, box, look, press, rows };
  };

  test('by the arrow keys and Enter, without leaving the field', async () => {
    const { part, picked, box, look, press, rows } = await show();
    await look('maud');
    const asked = await part.answer('/api/contacts', { rows });
    await part.pass(30);
    expect(asked.request.params.get('q')).toBe('maud');
    expect(document.querySelectorAll('mat-option')).toHaveLength(2);
    await press('ArrowDown');
    expect(document.querySelector('mat-option.mat-mdc-option-active')!.textContent).toContain('Maud Thorne');
    await press('Enter');
    expect([picked, box.value, document.querySelector('mat-option')]).toEqual([['b'], 'Maud Thorne', null]);
  });

  test('with Escape nobody, and what was typed stays', async () => {
    const { part, picked, box, look, press, rows } = await show();
    await look('maud');
    await part.answer('/api/contacts', { rows });
    await part.pass(30);
    await press('Escape');
    expect([picked, box.value, document.querySelector('mat-option')]).toEqual([[], 'maud', null]);
  });

  test('an emptied field is nobody', async () => {
    const { picked, look } = await show();
    await look('');
    expect(picked).toEqual(['']);
  });

  test('only what was typed last is looked for, and a server that is away finds nobody', async () => {
    const { part, box, look } = await show();
    box.value = 'm';
    box.dispatchEvent(new Event('input'));
    await look('maud');
    const asked = part.server.match((request) => request.url === '/api/contacts');
    expect(asked.map((each) => each.request.params.get('q'))).toEqual(['maud']);
    asked[0]!.error(new ProgressEvent('error'));
    await part.settle();
    expect(document.querySelector('mat-option')).toBeNull();
  });

  test('several are picked one after the other: the field empties itself', async () => {
    const { part, picked, box, look, press, rows } = await show({ isRepeated: true });
    await look('maud');
    await part.answer('/api/contacts', { rows });
    await part.pass(30);
    await press('Enter');
    expect([picked, box.value]).toEqual([['a'], '']);
  });
});

describe('a source', () => {
  @Component({
    selector: 'kettle-test-source',
    imports: [PlainInputs],
    changeDetection: ChangeDetectionStrategy.OnPush,
    template: `
      <kettle-plain-inputs
        [catalogue]="catalogue"
        [only]="['source', 'subject']"
        [controls]="form.controls"
      />
    `,
  })
  class Sources {
    readonly catalogue = leadPlain;
    readonly form = new RecordForm(plainControls(leadPlain, null));
  }

  test('is proposed from those in use, read once somebody comes to the field; other fields propose nothing', async () => {
    const part = await showPart(Sources);
    part.field('What they want').dispatchEvent(new Event('focus'));
    expect(part.server.match('/api/words-in-use?field=source')).toEqual([]);
    const box = part.field('Source');
    box.dispatchEvent(new Event('focusin', { bubbles: true }));
    box.dispatchEvent(new Event('focus'));
    await part.answer('/api/words-in-use', { words: ['Harbour Fair', 'Leaflet'] });
    await part.type(box, 'fair');
    await part.pass(20);
    const options = [...document.querySelectorAll('mat-option')].map((each) => each.textContent.trim());
    expect(options).toEqual(['Harbour Fair']);
  });
});

describe('a company is found while it is typed', () => {
  const show = async () => {
    const part = await showPart(CompanyPicker, { inputs: { label: 'Company' } });
    const chosen: (string | null)[] = [];
    part.shown.companyId.subscribe((id) => chosen.push(id));
    const box = part.field('Company');
    const look = async (text: string, rows: readonly object[]) => {
      box.focus();
      box.value = text;
      box.dispatchEvent(new Event('input'));
      await part.pass(170);
      const asked = await part.answer('/api/companies', { rows });
      await part.pass(30);
      return asked.request.params.get('q');
    };
    return { part, chosen, look };
  };
  const two = [
    { id: 'one', name: 'Penrow Laundry', city: 'Marrow', country: 'GB' },
    { id: 'two', name: 'Penrow Laundry', city: 'Bremen', country: 'DE' },
  ];

  test('two of one name are told apart by their place, and the id of the chosen one is given', async () => {
    const { part, chosen, look } = await show();
    expect(await look('penrow', two)).toBe('penrow');
    const options = [...document.querySelectorAll<HTMLElement>('mat-option')];
    expect(options.map((each) => each.textContent.replace(/\s+/g, ' ').trim())).toEqual([
      'Penrow LaundryMarrow, GB',
      'Penrow LaundryBremen, DE',
    ]);
    await part.click(options[1]!);
    expect([part.shown.value(), part.shown.companyId()]).toEqual(['Penrow Laundry', 'two']);
    expect(chosen.at(-1)).toBe('two');
  });

  test('what is typed on is a name again, and one that nobody knows is said to be new', async () => {
    const { part, look } = await show();
    await look('penrow', two);
    await part.click(document.querySelector<HTMLElement>('mat-option')!);
    await look('Penrow Laundry & Sons', []);
    expect(part.shown.companyId()).toBeNull();
    expect(part.root.textContent).toContain('A new company');
    await look('penrow laundry', two);
    expect(part.root.textContent).not.toContain('A new company');
  });
});
