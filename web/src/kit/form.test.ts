import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { FormArray, FormGroup } from '@angular/forms';
import fc from 'fast-check';
import { type Observable, of, Subject, throwError } from 'rxjs';
import { showPart } from '../../testing/part';
import { ApiProblem } from '../api/api';
import { DayField } from './day-field';
import { field, formParts, named, pathOf, RecordForm, required } from './form';
import { ProposedField } from './proposed-field';
import { TagsField } from './tags-field';

@Component({
  selector: 'kettle-test-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, DayField, ProposedField, TagsField],
  template: `
    <kettle-dialog-form title="A deal" act="Create" [form]="form" (save)="save()">
      <kettle-proposed-field
        label="Name"
        [formControl]="form.controls.name"
        [most]="20"
        [proposals]="words"
      />
      <kettle-number-field kind="money" label="Value" [formControl]="form.controls.value" />
      <kettle-number-field kind="percent" label="Chance" [formControl]="form.controls.chance" [max]="100" />
      <kettle-number-field
        kind="days"
        label="Notice"
        [formControl]="form.controls.notice"
        [min]="0"
        [max]="730"
      />
      <kettle-day-field label="Closes" [formControl]="form.controls.closes" />
      <kettle-choice-field label="Stage" [formControl]="form.controls.stage" [options]="stages" />
      <kettle-tags-field
        label="Tags"
        [formControl]="form.controls.tags"
        [proposals]="['steam', 'hard water']"
      />
      <kettle-text-field label="Town" [formControl]="form.controls.sites.at(0).controls.city" />
    </kettle-dialog-form>
  `,
})
class Host {
  readonly words = ['softener', 'soft start', 'boiler'];
  readonly stages = [{ group: 'New business', options: named([{ id: 's1', name: 'Inquiry' }]) }];
  readonly form = new RecordForm({
    name: required(''),
    value: required<number>(null),
    chance: field<number | null>(null),
    notice: field<number | null>(60),
    closes: field(''),
    stage: field<string | null>(null),
    tags: field<readonly string[]>(['old']),
    sites: new FormArray([new FormGroup({ city: field('') })]),
  });
  readonly sent: object[] = [];
  readonly done = signal(0);
  answer: () => Observable<null> = () => of(null);

  save(): void {
    this.form.send(
      this.form.getRawValue(),
      (body) => {
        this.sent.push(body);
        return this.answer();
      },
      () => this.done.update((count) => count + 1),
    );
  }
}

const show = async () => {
  const part = await showPart(Host);
  const leave = async (label: string) => {
    part.field(label).dispatchEvent(new Event('blur'));
    await part.settle();
  };
  const wrong = (label: string) =>
    part.field(label).closest('mat-form-field')!.querySelector('mat-error')?.textContent.trim() ?? null;
  return { part, host: part.shown, leave, wrong, save: () => part.click(part.button('Create')) };
};

test('what must be filled in is marked from the start, and said when it is missing; nothing is sent', async () => {
  const { part, host, wrong, save } = await show();
  expect(part.field('Name').required).toBe(true);
  expect(part.field('Closes').required).toBe(false);
  expect(wrong('Name')).toBeNull();
  await save();
  expect([wrong('Name'), wrong('Value'), wrong('Closes')]).toEqual(['is missing', 'is missing', null]);
  const error = part.field('Name').closest('mat-form-field')!.querySelector('mat-error')!;
  expect(part.field('Name').getAttribute('aria-describedby')).toContain(error.id);
  expect(host.sent).toEqual([]);
});

test('it is sent once, however often it is pressed, and again after a refusal', async () => {
  const { part, host, save } = await show();
  const answers: Subject<null>[] = [];
  host.answer = () => {
    answers.push(new Subject());
    return answers.at(-1)!;
  };
  await part.type(part.field('Name'), 'Softener');
  await part.type(part.field('Value'), '4,400');
  await save();
  await save();
  expect(host.sent).toHaveLength(1);
  expect(part.button('Create').getAttribute('aria-disabled')).toBe('true');
  answers[0]!.error(new ApiProblem('offline', 'The server cannot be reached.'));
  await part.settle();
  expect(part.root.querySelector('[role=alert]')!.textContent).toContain('cannot be reached');
  await save();
  answers[1]!.next(null);
  answers[1]!.complete();
  await part.settle();
  expect([host.sent.length, host.done()]).toEqual([2, 1]);
  expect(part.root.querySelector('[role=alert]')).toBeNull();
});

test('what the server refuses stands at its field, however deep, and what was typed stays', async () => {
  const { part, host, wrong, save } = await show();
  host.answer = () =>
    throwError(
      () =>
        new ApiProblem('invalid-request', 'Check the marked fields.', [
          { path: 'name', message: 'may have at most 160 characters' },
          { path: 'sites.0.city', message: 'is unknown' },
        ]),
    );
  await part.type(part.field('Name'), 'Softener');
  await part.type(part.field('Value'), '12.5k');
  await save();
  expect([wrong('Name'), wrong('Town')]).toEqual(['may have at most 160 characters', 'is unknown']);
  expect([part.field('Name').value, part.field('Value').value]).toEqual(['Softener', '12.5k']);
});

test('where two changed the same field, both values are shown and the choice is sent', async () => {
  const { part, host, save } = await show();
  host.answer = () =>
    throwError(
      () =>
        new ApiProblem(
          'stale',
          'Changed meanwhile.',
          [{ path: 'name', message: 'was changed by Corin Vale meanwhile' }],
          { name: 'theirs', version: 7 },
        ),
    );
  await part.type(part.field('Name'), 'mine');
  await part.type(part.field('Value'), '1');
  await save();
  expect(part.root.textContent).toContain('Theirs: theirs');
  await part.click(part.field(/^Mine: mine/));
  await save();
  expect(host.sent[1]).toMatchObject({ resolved: { version: 7, mine: ['name'], theirs: [] } });
});

describe('a number', () => {
  test.each([
    ['Value', '12.5k', 1_250_000],
    ['Value', '4,400', 440_000],
    ['Value', '99.9', 9990],
    ['Chance', '30', 0.3],
    ['Chance', '12.5 %', 0.125],
    ['Notice', '1', 1],
  ])('%s typed as %j is %j', async (label, text, value) => {
    const { part, host } = await show();
    await part.type(part.field(label), text);
    expect(Object.values(host.form.getRawValue())).toContain(value);
  });

  test.each([
    ['Value', 'much', 'must be an amount in GBP such as 4,400 or 12.5k'],
    ['Chance', '130', 'must be a percentage such as 30, at most 100'],
    ['Notice', '1.5', 'must be a whole number such as 12, from 0 to 730'],
    ['Notice', '731', 'must be a whole number such as 12, from 0 to 730'],
  ])(
    '%s typed as %j says how to write it, once it is left; what was typed stays',
    async (label, text, words) => {
      const { part, host, leave, wrong, save } = await show();
      await part.type(part.field(label), text);
      expect(wrong(label)).toBeNull();
      await leave(label);
      expect([wrong(label), part.field(label).value]).toEqual([words, text]);
      await part.type(part.field('Name'), 'x');
      await save();
      expect(host.sent).toEqual([]);
    },
  );

  test('a value from outside is shown as it is written, in its own unit', async () => {
    const { part, host } = await show();
    host.form.patchValue({ value: 1_234_550, chance: 0.35, notice: 90 });
    await part.settle();
    expect(['Value', 'Chance', 'Notice'].map((label) => part.field(label).value)).toEqual([
      '12,345.50',
      '35',
      '90',
    ]);
  });

  test('money that is shown is read back to the penny', async () => {
    const { part, host } = await show();
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 99_999_999_99 }), async (minor) => {
        host.form.controls.value.setValue(minor);
        await part.settle();
        const shown = part.field('Value').value;
        await part.type(part.field('Value'), '');
        await part.type(part.field('Value'), shown);
        expect(host.form.controls.value.value).toBe(minor);
      }),
      { numRuns: 30 },
    );
  });
});

test('a day that cannot be read keeps the form from being sent, also when it was not left', async () => {
  const { part, host, wrong, save } = await show();
  await part.type(part.field('Name'), 'x');
  await part.type(part.field('Value'), '1');
  await part.type(part.field('Closes'), 'soonish');
  await save();
  expect([host.sent.length, wrong('Closes')]).toEqual([0, expect.stringContaining('Write a day')]);
  await part.type(part.field('Closes'), '3/12');
  await save();
  expect(host.sent[0]).toMatchObject({ closes: '2026-12-03' });
});

test('tags are made by Enter or a comma, each once, and removed by their cross', async () => {
  const { part, host } = await show();
  const box = part.root.querySelector<HTMLInputElement>('kettle-tags-field input')!;
  const enter = async (text: string, key: string, keyCode: number) => {
    await part.type(box, text);
    box.dispatchEvent(
      new KeyboardEvent('keydown', { key, keyCode, bubbles: true, cancelable: true } as never),
    );
    await part.settle();
  };
  await enter('boilers', 'Enter', 13);
  await enter('old', ',', 188);
  expect(host.form.controls.tags.value).toEqual(['old', 'boilers']);
  await part.click(part.root.querySelector<HTMLButtonElement>('[aria-label="Remove old"]')!);
  expect(host.form.controls.tags.value).toEqual(['boilers']);
});

test('a control knows where it stands', () => {
  const form = new Host().form;
  expect(pathOf(form.controls.sites.at(0).controls.city)).toBe('sites.0.city');
  expect(pathOf(form.controls.name)).toBe('name');
});

@Component({
  selector: 'kettle-test-late',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts],
  template: `
    <kettle-choice-field label="Owner" [formControl]="owner" [options]="people()" />
  `,
})
class Late {
  readonly owner = field<string | null>(null);
  readonly people = signal(named<string>([]));
}

test('a list that is opened before its choices came says so, and fills while it is open', async () => {
  const part = await showPart(Late);
  const offered = () =>
    [...document.querySelectorAll('.cdk-overlay-container mat-option')].map((each) =>
      each.textContent.trim(),
    );
  await part.click(part.field<HTMLElement>('Owner').querySelector<HTMLElement>('.mat-mdc-select-trigger')!);
  expect(offered()).toEqual(['Nothing to choose yet']);
  part.shown.people.set(named([{ id: 'd', name: 'Dara Finch' }]));
  await part.settle();
  expect(offered()).toEqual(['Dara Finch']);
});

@Component({
  selector: 'kettle-test-arrival',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ProposedField],
  template: `
    <kettle-proposed-field label="Why" [proposals]="['price', 'service']" startsHere />
  `,
})
class Arrival {}

test('the list of a field that a dialog starts in stays shut until asked for', async () => {
  const part = await showPart(Arrival);
  const box = part.field('Why');
  const options = () => document.querySelectorAll('mat-option').length;
  box.focus();
  await part.settle();
  expect(options()).toBe(0);
  await new Promise((resolve) => setTimeout(resolve));
  await part.settle();
  box.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', keyCode: 40 }));
  await part.settle();
  expect(options()).toBe(2);
});
