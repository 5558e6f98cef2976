import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { FormArray, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatRadioModule } from '@angular/material/radio';
import type { CallOf, Standing, StandingGroup } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api, type ApiProblem } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts } from '../../kit/conflicts';
import { byPaths, conflictBy } from '../../kit/submission';
import { field, pageFormParts, RecordForm, required } from '../../kit/form';
import { moved, OrderHandle } from '../../kit/order-handle';
import { WhyNot } from '../../kit/why-not';
import { Undo } from '../../services/undo';
import { spoken } from '../../kit/value-words';

interface Sent {
  readonly standings: readonly Row[];
}

const rowControls = ({ id, name, group, checkInDays, isDefault }: Row) =>
  new FormGroup({
    id: field(id),
    name: required(name),
    group: field(group),
    checkInDays: field(checkInDays),
    isDefault: field(isDefault),
  });

interface Row {
  readonly id: string | null;
  readonly name: string;
  readonly group: StandingGroup;
  readonly checkInDays: number | null;
  readonly isDefault: boolean;
}

const fieldsOf = ({ id, name, group, checkInDays, isDefault }: Row): Row => ({
  id,
  name,
  group,
  checkInDays,
  isDefault,
});

/** Standings by the paths of their fields. */
const byStanding = ({ standings = [] }: Partial<Sent>): object => ({
  usual: standings.find(({ isDefault }) => isDefault)?.id,
  ...byPaths('standings', standings),
});

/** Standings in their order, with group and check-in interval; one that goes says where its people are to be. */
@Component({
  selector: 'kettle-standing-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WhyNot,
    CdkDrag,
    CdkDropList,
    MatRadioModule,
    pageFormParts,
    MatButtonModule,
    Conflicts,
    OrderHandle,
  ],
  template: `
    <section>
      <h2 i18n>Standings</h2>
      <p i18n class="soft">
        The one status a contact has. After its check-in interval without a counting touch a contact is quiet;
        empty asks for no check-ins.
      </p>
      <form [formGroup]="form" (ngSubmit)="save()">
        <div cdkDropList (cdkDropListDropped)="move($event.previousIndex, $event.currentIndex)">
          @for (row of rows().controls; track row; let at = $index) {
            <div class="row" cdkDrag cdkDragLockAxis="y">
              <kettle-order-handle
                [name]="row.controls.name.value"
                [at]="at"
                [of]="rows().length"
                (moved)="move(at, at + $event)"
              />
              <kettle-text-field label="Name" i18n-label [formControl]="row.controls.name" [most]="60" />
              <kettle-choice-field
                label="Group"
                i18n-label
                [formControl]="row.controls.group"
                [options]="groups"
              />
              <kettle-number-field
                kind="days"
                label="Check-in"
                i18n-label
                [formControl]="row.controls.checkInDays"
                [min]="1"
                [max]="730"
              />
              <mat-radio-button
                i18n
                name="usual"
                [checked]="row.controls.isDefault.value"
                (change)="makeUsual(at)"
              >
                for new
              </mat-radio-button>
              <button
                i18n
                matButton
                type="button"
                [kettleWhyNot]="rows().length > 1 ? null : texts.oneStandingHasTo"
                (click)="remove(at)"
              >
                remove
              </button>
            </div>
          }
        </div>
        <button i18n matButton type="button" (click)="add()">add a standing</button>
        @for (gone of removed(); track gone.id) {
          <kettle-choice-field
            [label]="texts.whoeverIsBecomes(gone.name)"
            [options]="homes()"
            [value]="gone.home"
            (valueChange)="gone.home = $event ?? ''"
          />
        }
        @if (form.submission.problem(); as wrong) {
          <p class="wrong" role="alert">
            {{ wrong.message }}
            @if (wrong.code !== 'stale' && !isAtField(wrong)) {
              {{ wrong.fields[0]?.message }}
            }
          </p>
        }
        <kettle-conflicts
          [problem]="conflict()"
          [sent]="sent()"
          [label]="labelOf"
          [say]="sayValue"
          [(choices)]="form.submission.choices"
        />
        <button i18n matButton="filled" [disabled]="form.submission.isSending()" disabledInteractive>
          Save the standings
        </button>
      </form>
    </section>
  `,
  styleUrl: './settings-part.scss',
  styles: `
    .row {
      grid-template-columns: auto 1fr 120px 110px auto auto;
    }
  `,
})
export class StandingSettings {
  protected readonly texts = {
    oneStandingHasTo: $localize`One standing has to stay.`,
    whoeverIsBecomes: (name: string | number) => $localize`Whoever is “${name}:name:” becomes`,
  };

  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly loaded = reading((_: null) => this.api.call('listStandings'));
  protected readonly groups = spoken<StandingGroup>(['prospect', 'customer', 'former']);
  protected readonly form = new RecordForm({
    standings: new FormArray<ReturnType<typeof rowControls>>([]),
  });
  /** The rows as they stand now, for the page: an array of controls tells nobody of its order. */
  protected readonly rows = signal(this.form.controls.standings, { equal: () => false });
  protected readonly removed = signal<{ id: string; name: string; home: string }[]>([]);
  /** The standings as they were read: what others change meanwhile is told from what is changed here. */
  private seen: readonly Standing[] = [];
  /** Both sides by the paths that conflicts are told at. */
  protected readonly conflict = computed(() => conflictBy<Sent>(this.form.submission.problem(), byStanding));
  protected readonly sent = computed(() => byStanding(this.form.submission.sent() as Partial<Sent>));
  /** `Customer: check-in, days`. */
  protected readonly labelOf = (path: string): string | null => {
    const [at, id, field] = path.split('.');
    if (at === 'order') return $localize`Order of the standings`;
    if (at === 'usual') return $localize`For new contacts`;
    if (id === undefined) return null;
    return field === undefined
      ? $localize`Standing ${this.nameOf(id)}`
      : `${this.nameOf(id)}: ${field === 'checkInDays' ? $localize`check-in, days` : field}`;
  };
  protected readonly sayValue = (path: string, value: unknown): string | null => {
    const [at, , field] = path.split('.');
    if (at === 'order') return (value as readonly string[]).map((id) => this.nameOf(id)).join(', ');
    if (at === 'usual') return this.nameOf(String(value));
    return field === undefined ? (value === undefined ? 'deleted' : $localize`kept as typed`) : null;
  };

  constructor() {
    this.loaded.read(null);
    effect(() => {
      const read = this.loaded.value();
      untracked(() => {
        this.removed.set([]);
        this.form.submission.clear();
        this.seen = read?.standings.map(({ standing }) => standing) ?? [];
        this.put(this.seen.map(rowControls));
      });
    });
  }

  protected readonly homes = computed(() =>
    this.rows().controls.flatMap(({ value: { id, name } }) => (id ? [{ value: id, words: name ?? '' }] : [])),
  );

  private put(rows: readonly ReturnType<typeof rowControls>[]): void {
    const { standings } = this.form.controls;
    standings.clear();
    for (const row of rows) standings.push(row);
    this.rows.set(standings);
  }

  protected move(from: number, to: number): void {
    this.put(moved(this.form.controls.standings.controls, from, to));
  }

  protected makeUsual(at: number): void {
    this.form.controls.standings.controls.forEach(({ controls }, index) =>
      controls.isDefault.setValue(index === at),
    );
    this.rows.set(this.form.controls.standings);
  }

  protected add(): void {
    const row = { id: null, name: '', group: 'prospect', checkInDays: 14, isDefault: false } as const;
    this.put([...this.form.controls.standings.controls, rowControls(row)]);
  }

  protected remove(at: number): void {
    const row = this.form.controls.standings.at(at).getRawValue();
    this.put(this.form.controls.standings.controls.filter((_, index) => index !== at));
    if (row.isDefault) this.makeUsual(0);
    const home = this.homes()[0]?.value ?? '';
    if (row.id !== null) this.removed.update((all) => [...all, { id: row.id!, name: row.name, home }]);
  }

  /** Whether a refusal stands at one of the fields. */
  protected isAtField({ fields }: ApiProblem): boolean {
    return fields.every(({ path }) => this.form.get(path) !== null);
  }

  private nameOf(id: string): string {
    const now = this.form.submission.problem()?.current as Partial<Sent> | undefined;
    const all = [...this.form.getRawValue().standings, ...this.seen, ...(now?.standings ?? [])];
    return all.find((each) => each.id === id)?.name ?? $localize`the new standing`;
  }

  protected save(): void {
    const standings = this.form.getRawValue().standings;
    const homes = this.removed().map(({ id, home }) => ({ from: id, to: home }));
    const changeId = v7();
    this.form.send(
      { seen: this.seen.map(fieldsOf), standings, homes },
      (body) => this.api.call('saveStandings', { body: body as CallOf<'saveStandings'>['body'] }, changeId),
      () => {
        this.loaded.again();
        const words = $localize`The standings are saved; check-ins are counted again in the background.`;
        this.undo.offer(words, changeId, () => this.loaded.again());
      },
    );
  }
}
