import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, Contact, Deal, DealRole } from '@kettle/contract';
import { dealPlain } from '@kettle/contract/base/catalogues';
import { dealRoleLabel } from '@kettle/contract/labels';
import { readMoney, sayMoney } from '@kettle/core/money';
import { addDays } from '@kettle/core/time';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, resolvedOf, type Choices } from '../../kit/conflicts';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
import { CurrentUser } from '../../services/current-user';
import {
  CustomInputs,
  PeopleWords,
  PersonPicker,
  PlainInputs,
  addCustomTexts,
  plainTexts,
  readCustomTexts,
  readPlainTexts,
} from '../fields/index';
import { DealWords } from './deal-words';
import { FirstStepFields, nextOf, type FirstStep } from './first-step';
import { LineEditor, lineOf, typedLineOf, type TypedLine } from './line-editor';

interface Asked {
  readonly contact?: Contact | null;
  readonly deal?: Deal | null;
}

const usualDaysToClose = 30;

/** Makes a deal with its next step, or changes one; a change that met another person's shows theirs and keeps what was typed. */
@Component({
  selector: 'kettle-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    DayField,
    choiceParts,
    MatCheckboxModule,
    MatButtonModule,
    FormsModule,
    MatDialogModule,
    Conflicts,
    FirstStepFields,
    LineEditor,
    PersonPicker,
    CustomInputs,
    PlainInputs,
  ],
  templateUrl: './deal-dialog.html',
  styles: `
    section {
      padding-block: var(--space-3);
    }
    .role {
      inline-size: auto;
    }
  `,
})
export class DealDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<DealDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(DealWords);
  protected readonly peopleWords = inject(PeopleWords);
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected readonly roles = Object.keys(dealRoleLabel) as DealRole[];
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly amountWrong = signal<string | null>(null);
  private readonly open = reading((_: null) => this.api.call('listDeals', { query: { owner: 'all' } }));
  /** Deals it can be part of: open ones of the same company. */
  protected readonly parents = computed((): readonly { id: string; name: string }[] => {
    const companyId = this.asked.deal?.companyId ?? this.asked.contact?.companyId ?? null;
    const rows = (this.open.value()?.rows ?? []).filter(
      (row) => companyId !== null && row.companyId === companyId && row.id !== this.asked.deal?.id,
    );
    const parent = this.asked.deal?.parent;
    return parent && !rows.some(({ id }) => id === parent.id) ? [parent, ...rows] : rows;
  });
  /** What was sent last, and whose value holds where somebody else changed the same field. */
  protected readonly sent = signal<object>({});
  protected readonly choices = signal<Choices>({});

  private readonly before = this.asked.deal ?? null;
  protected contactId: string = this.asked.contact?.id ?? this.before?.contactId ?? '';
  protected name = this.before?.name ?? '';
  protected amount = this.before ? String(this.before.amountMinor / 100) : '';
  protected currency = this.before?.currency ?? this.user.currency();
  /** Also the one it is in, should it have no rate any more. */
  protected readonly currencies = [...new Set([...this.user.currencies(), this.currency])];
  protected readonly stageId = signal<string>(this.before?.stageId ?? '');
  protected closeOn =
    this.before?.expectedCloseOn ?? (this.before ? '' : addDays(this.user.today(), usualDaysToClose));
  protected probability =
    this.before === null || this.before.ownProbability === null
      ? ''
      : String(Math.round(this.before.ownProbability * 100));
  protected readonly next = signal<FirstStep>({
    channel: 'call',
    dueOn: this.user.nextWorkday(),
    purpose: '',
  });
  protected readonly lines = signal<readonly TypedLine[]>((this.before?.lines ?? []).map(typedLineOf));
  protected readonly people = signal<readonly { contactId: string; role: DealRole }[]>(
    this.before?.people ?? [],
  );
  protected readonly team = signal<ReadonlySet<string>>(new Set(this.before?.team.map(({ id }) => id)));
  protected readonly plain = dealPlain;
  protected readonly texts = plainTexts(dealPlain, this.before);
  protected competitors = this.before?.competitors.join(', ') ?? '';
  protected ownerId: string = this.before?.ownerId ?? this.user.person()?.id ?? '';
  protected parentId: string = this.before?.parent?.id ?? '';
  protected readonly custom: Record<string, string> = {};

  constructor() {
    this.words.wake();
    this.open.read(null);
    effect(() => addCustomTexts(this.custom, this.before?.custom ?? {}, this.words.fields()));
    effect(() => {
      const [first] = this.words.stages();
      if (this.stageId() === '' && first) this.stageId.set(first.id);
    });
  }

  protected addPerson(contactId: string): void {
    if (contactId) this.people.update((people) => [...people, { contactId, role: 'decides' }]);
  }

  protected giveRole(at: number, role: DealRole): void {
    this.people.update((people) => people.map((each, index) => (index === at ? { ...each, role } : each)));
  }

  protected dropPerson(at: number): void {
    this.people.update((people) => people.filter((_, index) => index !== at));
  }

  protected turnTeam(id: string): void {
    this.team.update(
      (team) => new Set(team.has(id) ? [...team].filter((each) => each !== id) : [...team, id]),
    );
  }

  /** What the record calls what a change sends. */
  protected readonly inRecord = { winProbability: 'ownProbability', teamIds: 'team', parentId: 'parent' };
  protected readonly say = (path: string, value: unknown): string | null => {
    if (path === 'amountMinor')
      return sayMoney(value as number, this.before?.currency ?? this.user.currency());
    if (path === 'winProbability') return value === null ? null : `${Math.round((value as number) * 100)} %`;
    if (path === 'stageId') return this.words.stage(value as string)?.name ?? null;
    if (path === 'ownerId') return this.peopleWords.colleague(value as string);
    return null;
  };

  protected save(): void {
    const amountMinor = this.lines().length > 0 ? 0 : readMoney(this.amount);
    this.amountWrong.set(amountMinor === null ? 'must be an amount such as 4,400 or 12.5k' : null);
    if (amountMinor === null) return;
    const custom = readCustomTexts(this.custom, this.words.fields(), this.before?.custom ?? {});
    if (custom instanceof ApiProblem) return this.problem.set(custom);
    const shared = this.shared(amountMinor, custom);
    this.sent.set({ ...shared, ownerId: this.ownerId });
    const asked = this.before
      ? this.api.call('changeDeal', {
          params: { id: this.before.id },
          body: {
            ...shared,
            version: this.before.version,
            ...resolvedOf(this.problem(), this.choices()),
            ownerId: this.ownerId,
          } as CallOf<'changeDeal'>['body'],
        })
      : this.api.call('createDeal', {
          body: { ...shared, next: nextOf(this.next()) } as CallOf<'createDeal'>['body'],
        });
    asked.subscribe({
      next: (made) => this.dialog.close(made),
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  private shared(amountMinor: number, custom: object) {
    return {
      name: this.name,
      stageId: this.stageId(),
      amountMinor,
      currency: this.currency,
      expectedCloseOn: this.closeOn || null,
      winProbability: this.probability === '' ? null : Number(this.probability) / 100,
      ...(this.contactId ? { contactId: this.contactId } : {}),
      lines: this.lines().map(lineOf),
      people: this.people().map(({ contactId, role }) => ({ contactId, role })),
      teamIds: [...this.team()],
      competitors: this.competitors
        .split(',')
        .map((name) => name.trim())
        .filter(Boolean),
      ...readPlainTexts(dealPlain, this.texts),
      parentId: this.parentId || null,
      custom,
    };
  }
}
