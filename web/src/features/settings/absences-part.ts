import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { Absence, CallOf } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayField } from '../../kit/day-field';
import { field, pageFormParts, RecordForm, required } from '../../kit/form';
import { Failed } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';

/** When I am away, and of those I lead when they are; and who works the Round meanwhile. */
@Component({
  selector: 'kettle-absences-part',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, DayField, Failed, MatButtonModule],
  template: `
    <section aria-labelledby="absences">
      <h2 i18n id="absences">Away</h2>
      <p i18n class="soft">
        Nothing is planned for somebody who is away. Whoever stands in works their Round as their own
        meanwhile; it is theirs again when they are back.
      </p>
      <ul>
        @for (each of mine(); track each.id) {
          <li>
            <span>
              <b>{{ each.name }}</b>
              {{ days(each) }}
              <span class="soft">{{ standIn(each) }}</span>
            </span>
            @if (user.mayChange(each.userId)) {
              <button
                matButton
                type="button"
                (click)="remove(each)"
                [attr.aria-label]="texts.remove(each.name)"
              >
                {{ texts.removeIt }}
              </button>
            }
          </li>
        } @empty {
          <li i18n class="soft">Nobody is going to be away.</li>
        }
      </ul>
      @if (read.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="read.again()" />
        }
      }
      <kettle-page-form act="Add" i18n-act [form]="form" (save)="add()">
        <div class="form-grid">
          @if (people().length > 1) {
            <kettle-choice-field
              label="Who"
              i18n-label
              [formControl]="form.controls.userId"
              [options]="people()"
            />
          }
          <kettle-day-field label="First day" i18n-label [formControl]="form.controls.from" />
          <kettle-day-field label="Last day" i18n-label [formControl]="form.controls.to" />
          <kettle-choice-field
            label="Stands in"
            i18n-label
            [formControl]="form.controls.standInId"
            [options]="standIns()"
          />
        </div>
      </kettle-page-form>
    </section>
  `,
  styles: `
    :host {
      display: block;
      margin-block-start: var(--space-5);
    }
    ul {
      margin: 0 0 var(--space-3);
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      align-items: baseline;
      justify-content: space-between;
      gap: var(--space-3);
      padding-block: 4px;
      border-block-end: 1px solid var(--hairline);
      max-inline-size: 640px;
    }
  `,
  styleUrl: './settings-part.scss',
})
export class AbsencesPart {
  protected readonly texts = {
    nobody: $localize`nobody`,
    removeIt: $localize`remove`,
    remove: (name: string) => $localize`Remove the absence of ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly words = inject(PeopleWords);
  protected readonly user = inject(CurrentUser);
  protected readonly read = reading((_: null) => this.api.call('listAbsences'));
  private readonly me = this.user.person()?.id ?? '';
  /** Those one may plan for: oneself, and whom one leads. */
  protected readonly people = computed(() =>
    this.words
      .colleagues()
      .filter(({ id }) => this.user.mayChange(id))
      .map(({ id, name }) => ({ value: id as string, words: name })),
  );
  protected readonly standIns = computed(() => [
    { value: '', words: this.texts.nobody },
    ...this.words.colleagues().map(({ id, name }) => ({ value: id as string, words: name })),
  ]);
  protected readonly mine = computed(() =>
    (this.read.value()?.absences ?? []).filter(
      ({ userId, standInId }) => this.user.mayChange(userId) || standInId === this.me,
    ),
  );
  protected readonly form = new RecordForm({
    userId: required<string>(this.me),
    from: required(this.user.nextWorkday()),
    to: required(this.user.nextWorkday()),
    standInId: field(''),
  });

  constructor() {
    this.words.wake();
    this.read.read(null);
    inject(ChangeStream)
      .of('user')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected days({ from, to }: Absence): string {
    const today = this.user.today();
    return from === to ? sayDate(from, today) : `${sayDate(from, today)} – ${sayDate(to, today)}`;
  }

  protected standIn({ standInName }: Absence): string {
    return standInName === null ? $localize`nobody stands in` : $localize`${standInName}:name: stands in`;
  }

  protected add(): void {
    const { userId, from, to, standInId } = this.form.getRawValue();
    const changeId = v7();
    this.form.send(
      { userId, from, to, standInId: standInId === '' ? null : standInId },
      (body) => this.api.call('planAbsence', { body: body as CallOf<'planAbsence'>['body'] }, changeId),
      ({ name }) => {
        this.undo.offer($localize`${name}:name: is away on these days.`, changeId, () => this.again());
        this.again();
      },
    );
  }

  protected remove({ id, name }: Absence): void {
    const changeId = v7();
    this.api.call('removeAbsence', { params: { id } }, changeId).subscribe({
      next: () => {
        this.undo.offer($localize`${name}:name: is not away then.`, changeId, () => this.again());
        this.again();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  /** The session knows the days off that pickers leave out. */
  private again(): void {
    this.read.again();
    this.api.call('session').subscribe({
      next: (session) => this.user.enter(session),
      error: () => undefined,
    });
  }
}
