import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  output,
  viewChild,
} from '@angular/core';
import type { CellValue, ContactRow, CustomFieldType } from '@kettle/contract';
import { readCustomValue } from '@kettle/core/fields';
import type { Column } from './grid-columns';
import { PeopleWords } from '../fields/index';

interface Choice {
  readonly value: string;
  readonly name: string;
}

export type EditEnd = 'stay' | 'next';

/** Edits one cell: text, or a choice from a list. Enter saves, Tab saves and goes on, Escape leaves it as it was. */
@Component({
  selector: 'kettle-cell-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (choices(); as list) {
      <select
        #box
        class="plain"
        [attr.aria-label]="label()"
        (change)="save(box.value, 'stay')"
        (keydown)="onKey($event, box.value)"
        (blur)="left.emit()"
      >
        @for (choice of list; track choice.value) {
          <option [value]="choice.value" [selected]="choice.value === text()">{{ choice.name }}</option>
        }
      </select>
    } @else {
      <input
        #box
        class="plain"
        [attr.aria-label]="label()"
        [attr.aria-invalid]="problem() ? true : null"
        [title]="problem() ?? ''"
        [type]="column().type === 'date' ? 'date' : 'text'"
        [value]="text()"
        (keydown)="onKey($event, box.value)"
        (blur)="save(box.value, 'stay')"
      />
    }
  `,
  styles: `
    .plain {
      min-block-size: 28px;
      padding: 2px 4px;
    }
    [aria-invalid] {
      border-color: var(--accent);
    }
  `,
})
export class CellEditor {
  private readonly words = inject(PeopleWords);
  readonly row = input.required<ContactRow>();
  readonly column = input.required<Column>();
  readonly problem = input<string | null>(null);
  readonly saved = output<{ value: CellValue; end: EditEnd }>();
  readonly wrong = output<string>();
  readonly left = output();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement | HTMLSelectElement>>('box');
  private isOver = false;

  protected readonly label = computed(() => `${this.column().name} of ${this.row().name}`);
  protected readonly choices = computed((): readonly Choice[] | null => {
    const { type, choices } = this.column();
    const none = { value: '', name: '—' };
    switch (type) {
      case 'standing':
        return this.words.standings().map(({ standing }) => ({ value: standing.id, name: standing.name }));
      case 'user':
        return [
          { value: '', name: 'nobody' },
          ...this.words.colleagues().map((each) => ({ value: each.id, name: each.name })),
        ];
      case 'choice':
        return [none, ...choices.map((name) => ({ value: name, name }))];
      case 'yes-no':
        return [none, { value: 'yes', name: 'yes' }, { value: 'no', name: 'no' }];
      default:
        return null;
    }
  });
  protected readonly text = computed(() => {
    const [row, column] = [this.row(), this.column()];
    if (column.cell === 'standingId') return row.standingId as string;
    if (column.cell === 'ownerId') return (row.ownerId as string | null) ?? '';
    if (column.cell === 'tags') return row.tags.join(', ');
    if (column.cell?.startsWith('custom:')) {
      const value = row.custom[column.cell.slice('custom:'.length)] ?? null;
      if (column.type === 'money' && typeof value === 'number') return (value / 100).toFixed(2);
      return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value ?? '');
    }
    return String(row[column.cell as 'email'] ?? '');
  });

  constructor() {
    afterNextRender(() => {
      const box = this.box().nativeElement;
      box.focus();
      if (box instanceof HTMLInputElement && box.type === 'text') box.select();
    });
  }

  protected onKey(event: KeyboardEvent, text: string): void {
    event.stopPropagation();
    if (event.key === 'Escape') {
      this.isOver = true;
      this.left.emit();
    }
    if (event.key === 'Enter' || event.key === 'Tab') {
      event.preventDefault();
      this.save(text, event.key === 'Tab' ? 'next' : 'stay');
    }
  }

  protected save(text: string, end: EditEnd): void {
    if (this.isOver) return;
    if (text === this.text()) {
      this.isOver = true;
      if (end === 'next') this.saved.emit({ value: this.valueOf(text), end });
      this.left.emit();
      return;
    }
    const custom = this.column().cell?.startsWith('custom:');
    if (custom) {
      const read = readCustomValue(text, {
        type: this.column().type as CustomFieldType,
        choices: [...this.column().choices],
      });
      if (read.kind === 'wrong') return this.wrong.emit(read.reason);
      this.saved.emit({ value: read.value, end });
    } else this.saved.emit({ value: this.valueOf(text), end });
  }

  private valueOf(text: string): CellValue {
    const { cell } = this.column();
    if (cell === 'tags')
      return text
        .split(/[,;]/)
        .map((tag) => tag.trim())
        .filter(Boolean);
    if (cell === 'checkInDays') return text.trim() === '' ? null : Number(text);
    const trimmed = text.trim();
    return trimmed === '' ? (cell === 'givenName' || cell === 'familyName' ? '' : null) : trimmed;
  }
}
