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
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatRadioModule } from '@angular/material/radio';
import type { CallOf, Standing, StandingGroup } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { byPaths, conflictBy, Conflicts, Submission } from '../../kit/conflicts';
import { choiceParts } from '../../kit/choice';
import { moved, OrderHandle } from '../../kit/order-handle';
import { Undo } from '../../services/undo';

interface Row {
  id: string | null;
  name: string;
  group: StandingGroup;
  checkInDays: number | null;
  isDefault: boolean;
}

interface Sent {
  readonly standings: readonly Row[];
}

const fieldsOf = <Id extends string | null>({
  id,
  name,
  group,
  checkInDays,
  isDefault,
}: Row & { id: Id }) => ({
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
    CdkDrag,
    CdkDropList,
    MatRadioModule,
    choiceParts,
    MatButtonModule,
    Conflicts,
    FormsModule,
    OrderHandle,
  ],
  template: `
    <section>
      <h2>Standings</h2>
      <p class="soft">
        The one status a contact has. After its check-in interval without a counting touch a contact is quiet;
        empty asks for no check-ins.
      </p>
      <form (ngSubmit)="save()">
        <div cdkDropList (cdkDropListDropped)="move($event.previousIndex, $event.currentIndex)">
          @for (row of rows(); track $index; let at = $index) {
            <div class="row" cdkDrag cdkDragLockAxis="y">
              <kettle-order-handle
                [name]="row.name"
                [at]="at"
                [of]="rows().length"
                (moved)="move(at, at + $event)"
              />
              <mat-form-field>
                <mat-label>Name</mat-label>
                <input matInput [name]="'name' + at" [(ngModel)]="row.name" required maxlength="60" />
              </mat-form-field>
              <mat-form-field>
                <mat-label>Group</mat-label>
                <mat-select [name]="'group' + at" [(ngModel)]="row.group">
                  @for (group of groups; track group) {
                    <mat-option [value]="group">{{ group }}</mat-option>
                  }
                </mat-select>
              </mat-form-field>
              <mat-form-field>
                <mat-label>Check-in, days</mat-label>
                <input
                  matInput
                  [name]="'days' + at"
                  type="number"
                  min="1"
                  max="730"
                  [(ngModel)]="row.checkInDays"
                />
              </mat-form-field>
              <mat-radio-button name="usual" [checked]="row.isDefault" (change)="makeUsual(at)">
                for new
              </mat-radio-button>
              <button matButton type="button" [disabled]="rows().length === 1" (click)="remove(at)">
                remove
              </button>
            </div>
          }
        </div>
        <button matButton type="button" (click)="add()">add a standing</button>
        @for (gone of removed(); track gone.id) {
          <mat-form-field>
            <mat-label>Whoever is “{{ gone.name }}” becomes</mat-label>
            <mat-select [name]="'home' + gone.id" [(ngModel)]="gone.home">
              @for (row of rows(); track $index) {
                @if (row.id !== null) {
                  <mat-option [value]="row.id">{{ row.name }}</mat-option>
                }
              }
            </mat-select>
          </mat-form-field>
        }
        @if (saving.problem(); as wrong) {
          <p class="wrong" role="alert">
            {{ wrong.message }}
            @if (wrong.code !== 'stale') {
              {{ wrong.fields[0]?.message }}
            }
          </p>
        }
        <kettle-conflicts
          [problem]="conflict()"
          [sent]="sent()"
          [label]="labelOf"
          [say]="sayValue"
          [(choices)]="saving.choices"
        />
        <button matButton="filled">Save the standings</button>
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
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly loaded = reading((_: null) => this.api.call('listStandings'));
  protected readonly groups: readonly StandingGroup[] = ['prospect', 'customer', 'former'];
  protected readonly rows = signal<Row[]>([]);
  protected readonly removed = signal<{ id: string; name: string; home: string }[]>([]);
  protected readonly saving = new Submission();
  /** The standings as they were read: what others change meanwhile is told from what is changed here. */
  private seen: readonly Standing[] = [];
  /** Both sides by the paths that conflicts are told at. */
  protected readonly conflict = computed(() => conflictBy<Sent>(this.saving.problem(), byStanding));
  protected readonly sent = computed(() => byStanding(this.saving.sent() as Partial<Sent>));
  /** `Customer: check-in, days`. */
  protected readonly labelOf = (path: string): string | null => {
    const [at, id, field] = path.split('.');
    if (at === 'order') return 'Order of the standings';
    if (at === 'usual') return 'For new contacts';
    if (id === undefined) return null;
    return field === undefined
      ? `Standing ${this.nameOf(id)}`
      : `${this.nameOf(id)}: ${field === 'checkInDays' ? 'check-in, days' : field}`;
  };
  protected readonly sayValue = (path: string, value: unknown): string | null => {
    const [at, , field] = path.split('.');
    if (at === 'order') return (value as readonly string[]).map((id) => this.nameOf(id)).join(', ');
    if (at === 'usual') return this.nameOf(String(value));
    return field === undefined ? (value === undefined ? 'deleted' : 'kept as typed') : null;
  };

  constructor() {
    this.loaded.read(null);
    effect(() => {
      const read = this.loaded.value();
      untracked(() => {
        this.removed.set([]);
        this.saving.clear();
        this.seen = read?.standings.map(({ standing }) => standing) ?? [];
        this.rows.set(
          read?.standings.map(({ standing }) => ({ ...standing, id: standing.id as string })) ?? [],
        );
      });
    });
  }

  protected move(from: number, to: number): void {
    this.rows.update((rows) => moved(rows, from, to));
  }

  protected makeUsual(at: number): void {
    this.rows.update((rows) => rows.map((row, index) => ({ ...row, isDefault: index === at })));
  }

  protected add(): void {
    this.rows.update((rows) => [
      ...rows,
      { id: null, name: '', group: 'prospect', checkInDays: 14, isDefault: false },
    ]);
  }

  protected remove(at: number): void {
    const row = this.rows()[at]!;
    this.rows.update((rows) => rows.filter((_, index) => index !== at));
    if (row.isDefault) this.makeUsual(0);
    const home = this.rows().find((each) => each.id !== null)?.id ?? '';
    if (row.id !== null) this.removed.update((all) => [...all, { id: row.id!, name: row.name, home }]);
  }

  private nameOf(id: string): string {
    const now = this.saving.problem()?.current as Partial<Sent> | undefined;
    const all = [...this.rows(), ...this.seen, ...(now?.standings ?? [])];
    return all.find((each) => each.id === id)?.name ?? 'the new standing';
  }

  protected save(): void {
    const standings = this.rows().map((row) => ({ ...fieldsOf(row), checkInDays: row.checkInDays || null }));
    const homes = this.removed().map(({ id, home }) => ({ from: id, to: home }));
    const body = this.saving.bodyOf({ seen: this.seen.map(fieldsOf), standings, homes });
    const changeId = v7();
    this.api.call('saveStandings', { body: body as CallOf<'saveStandings'>['body'] }, changeId).subscribe({
      next: () => {
        this.saving.clear();
        this.loaded.again();
        const words = 'The standings are saved; check-ins are counted again in the background.';
        this.undo.offer(words, changeId, () => this.loaded.again());
      },
      error: this.saving.refuse,
    });
  }
}
