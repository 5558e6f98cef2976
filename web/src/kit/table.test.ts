import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { showPart } from '../../testing/part';
import { tableParts } from './table';

interface Row {
  readonly name: string;
  readonly count: number;
}

@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [tableParts],
  template: `
    <ng-template #own><button type="button">all</button></ng-template>
    <kettle-table [rows]="rows()" label="Cups" empty="No cup yet." [isChosen]="isChosen" [by]="nameOf">
      <ng-template [kettleColumn]="rows()" head="name" let-row let-at="at">
        {{ at + 1 }} {{ row.name }}
      </ng-template>
      <ng-template [kettleColumn]="rows()" head="how many" isNumber let-row>{{ row.count }}</ng-template>
      @if (mayAct()) {
        <ng-template [kettleColumn]="rows()" head="acts" isSilent [headOf]="own">…</ng-template>
      }
      <ng-template [kettleBelow]="rows()" let-row>
        @if (row.count < 0) {
          <span>must not be less than none</span>
        }
      </ng-template>
    </kettle-table>
  `,
})
class Cups {
  readonly rows = signal<readonly Row[]>([
    { name: 'mug', count: 4 },
    { name: 'beaker', count: 2 },
  ]);
  readonly mayAct = signal(false);
  protected readonly isChosen = ({ name }: Row): boolean => name === 'mug';
  protected readonly nameOf = ({ name }: Row): string => name;
}

const cells = (root: Element) =>
  [...root.querySelectorAll('tbody tr:not(.below)')].map((row) =>
    [...row.querySelectorAll('td')].map((cell) => cell.textContent.trim()),
  );

test('is a table for screen readers too, with its heads, and says which row is chosen', async () => {
  const { root } = await showPart(Cups);
  expect(root.querySelector('table')!.getAttribute('aria-label')).toBe('Cups');
  expect([...root.querySelectorAll('th')].map((head) => head.textContent)).toEqual(['name', 'how many']);
  expect(
    [...root.querySelectorAll('table, tr:not(.below), th, td:not(.below td)')].every((each) => each.role),
  ).toBe(true);
  expect(cells(root)).toEqual([
    ['1 mug', '4'],
    ['2 beaker', '2'],
  ]);
  expect(root.querySelector('tr.chosen')!.textContent).toContain('mug');
  // On a phone the head stands beside its cell.
  expect(root.querySelector('td[data-head]')!.getAttribute('data-head')).toBe('how many');
});

test('a column comes and goes, with a head of its own', async () => {
  const part = await showPart(Cups);
  part.shown.mayAct.set(true);
  await part.settle();
  expect(part.root.querySelectorAll('th')).toHaveLength(3);
  expect(part.root.querySelector('th button')!.textContent).toBe('all');
});

test('what was typed in a row stays when its row changes; what is wrong stands below it; none is said', async () => {
  const part = await showPart(Cups);
  const [, second] = part.root.querySelectorAll('tbody tr:not(.below)');
  part.shown.rows.set([
    { name: 'mug', count: 4 },
    { name: 'beaker', count: -1 },
  ]);
  await part.settle();
  expect(part.root.querySelectorAll('tbody tr:not(.below)')[1]).toBe(second);
  expect(second!.nextElementSibling!.textContent).toContain('must not be less than none');
  part.shown.rows.set([]);
  await part.settle();
  expect(part.root.querySelector('tbody')!.textContent).toContain('No cup yet.');
});
