import { sayCount } from '@kettle/core/locale';
import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatRadioModule } from '@angular/material/radio';
import { companyPlain, contactPlain, dealPlain, leadPlain } from '@kettle/contract/base/catalogues';
import type { ApiProblem } from '../api/api';
import type { Choices } from './submission';

/** What fields of a record are called where their name in the contract does not say it. */
const labels: Readonly<Record<string, string>> = {
  amountMinor: $localize`Value`,
  expectedCloseOn: $localize`Closes on`,
  winProbability: $localize`Own chance`,
  stageId: $localize`Stage`,
  priceMinor: $localize`Price`,
  isRetired: $localize`No longer used`,
  origins: $localize`Pages it may be on`,
  contactId: $localize`Person`,
  ownerId: $localize`Owner`,
  parentId: $localize`Part of`,
  teamIds: $localize`Team`,
  lines: $localize`Product lines`,
  people: $localize`People involved`,
  custom: $localize`Custom fields`,
  standingId: $localize`Standing`,
  siteId: $localize`Site`,
  checkInDays: $localize`Check in, days`,
  companyName: $localize`Company`,
  otherPoints: $localize`Further addresses and numbers`,
  otherCompanies: $localize`Further companies`,
  doNotContact: $localize`Do not contact`,
  sites: $localize`Sites`,
  dueOn: $localize`Due on`,
  purpose: $localize`Purpose`,
  promisedMinute: $localize`Promised at`,
  remindMinutes: $localize`Reminder`,
};

/** What the catalogues call their fields. */
const plainNames = new Map(
  [contactPlain, companyPlain, dealPlain, leadPlain].flatMap((catalogue) =>
    catalogue.keys.map((key): [string, string] => [key, catalogue.of(key as never).name]),
  ),
);

const labelOf = (path: string) =>
  labels[path] ??
  (plainNames.get(path) ?? path.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)).replace(
    /^./,
    (first) => first.toUpperCase(),
  );

/** A value in words: `nothing` for an empty one, a number of parts for what has no words. */
function plainly(value: unknown): string {
  if (value === null || value === undefined || value === '') return 'nothing';
  if (Array.isArray(value)) {
    if (value.length === 0) return 'nothing';
    return value.every((each) => typeof each !== 'object')
      ? value.join(', ')
      : sayCount(value.length, $localize`entry|entries`);
  }
  return typeof value === 'object' ? $localize`as typed` : String(value);
}

/**
 * Where two people changed the same field, whose value holds: chosen field by field, with both values in sight. Fields that only the other
 * changed are theirs without a question.
 */
@Component({
  selector: 'kettle-conflicts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatRadioModule],
  template: `
    @for (field of fields(); track field.path) {
      <fieldset class="conflict">
        <legend>{{ field.label }} {{ field.message }}</legend>
        <mat-radio-group
          [name]="'conflict-' + field.path"
          [ngModel]="choices()[field.path]"
          (ngModelChange)="choose(field.path, $event)"
        >
          <mat-radio-button i18n value="mine">Mine: {{ field.mine }}</mat-radio-button>
          <mat-radio-button i18n value="theirs">Theirs: {{ field.theirs }}</mat-radio-button>
        </mat-radio-group>
      </fieldset>
    }
    @if (fields().length > 0) {
      <p i18n class="soft">Choose for each of them, then save again. Nothing else of theirs is changed.</p>
    } @else if (isUnknown()) {
      <p i18n class="soft">
        It was changed too long ago to compare. Saving again puts all of yours in its place.
      </p>
    }
  `,
  styles: `
    .conflict {
      border: 1px solid var(--hairline);
      border-radius: var(--radius, 6px);
      margin-block: var(--space-2);
      padding: var(--space-1) var(--space-3);
    }
    mat-radio-group {
      display: grid;
    }
  `,
})
export class Conflicts {
  readonly problem = input.required<ApiProblem | null>();
  /** What was sent, by the names of the contract. */
  readonly sent = input.required<object>();
  /** A value in the words of the form; null where the plain value says it. */
  readonly say = input<(path: string, value: unknown) => string | null>(() => null);
  /** What a field is called in the record, where that differs from the change. */
  readonly inRecord = input<Readonly<Record<string, string>>>({});
  /** What the form calls a field; null where its usual name does. */
  readonly label = input<(path: string) => string | null>(() => null);
  readonly choices = model.required<Choices>();

  private readonly stale = computed(() => (this.problem()?.code === 'stale' ? this.problem() : null));
  protected readonly isUnknown = computed(() => this.stale()?.fields.length === 0);
  protected readonly fields = computed(() => {
    const problem = this.stale();
    if (!problem) return [];
    const words = (path: string, value: unknown) => this.say()(path, value) ?? plainly(value);
    return problem.fields.map(({ path, message }) => ({
      path,
      message,
      label: this.label()(path) ?? labelOf(path),
      mine: words(path, valueAt(this.sent(), path)),
      theirs: words(path, valueAt(problem.current, this.inRecord()[path] ?? path)),
    }));
  });

  protected choose(path: string, whose: 'mine' | 'theirs'): void {
    this.choices.update((choices) => ({ ...choices, [path]: whose }));
  }
}

/** `p0.reply` of a record is `record.p0.reply`. */
function valueAt(record: unknown, path: string): unknown {
  return path
    .split('.')
    .reduce((value: unknown, name) => (value as Record<string, unknown> | undefined)?.[name], record);
}
