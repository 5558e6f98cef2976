import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, Contact, Deal, DealRole } from '@kettle/contract';
import { dealPlain } from '@kettle/contract/base/catalogues';
import { dealRoleLabel } from '@kettle/contract/labels';
import { sayMoney } from '@kettle/core/money';
import { addDays } from '@kettle/core/time';
import { Api, ApiProblem } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, named, RecordForm, required, sameWords } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import {
  CustomInputs,
  OwnFields,
  PeopleWords,
  PersonPicker,
  plainControls,
  PlainInputs,
  readPlain,
} from '../fields/index';
import { DealPicker } from './deal-picker';
import { DealWords } from './deal-words';
import { firstStepControls, FirstStepFields, nextOf } from './first-step';
import { LineEditor, lineOf, typedLineOf, type TypedLine } from './line-editor';
import { spoken } from '../../kit/value-words';
import { StageField } from './stage-field';

interface Asked {
  readonly contact?: Contact | null;
  readonly deal?: Deal | null;
}

const usualDaysToClose = 30;

/** The company of a deal or a person, if there is one. */
const companyOf = (
  of: { readonly companyId: string | null; readonly companyName: string | null } | null,
): { readonly id: string; readonly name: string } | null =>
  of?.companyId ? { id: of.companyId, name: of.companyName ?? '' } : null;

/** Makes a deal with its next step, or changes one; a change that met another person's shows theirs and keeps what was typed. */
@Component({
  selector: 'kettle-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    StageField,
    formParts,
    DayField,
    MatCheckboxModule,
    MatButtonModule,
    FirstStepFields,
    LineEditor,
    PersonPicker,
    DealPicker,
    CustomInputs,
    PlainInputs,
  ],
  templateUrl: './deal-dialog.html',
})
export class DealDialog {
  protected readonly texts = {
    changeTheDeal: $localize`Change the deal`,
    newDeal: $localize`New deal`,
    save: $localize`Save`,
    createDeal: $localize`Create deal`,
    valueTheSumOf: $localize`Value (the sum of its lines)`,
    value: $localize`Value`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<DealDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(DealWords);
  protected readonly peopleWords = inject(PeopleWords);
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected readonly roles = spoken(Object.keys(dealRoleLabel));
  private readonly before = this.asked.deal ?? null;
  protected readonly own = new OwnFields('deal', this.before?.custom);
  /** Whose deals this one can be part of. */
  protected readonly company = signal(companyOf(this.before ?? this.asked.contact ?? null));
  protected readonly form = new RecordForm({
    contactId: field<string>(this.asked.contact?.id ?? this.before?.contactId ?? ''),
    name: required(this.before?.name ?? ''),
    amountMinor: required(this.before?.amountMinor ?? null),
    currency: field(this.before?.currency ?? this.user.currency()),
    stageId: field<string>(this.before?.stageId ?? ''),
    expectedCloseOn: field(
      this.before?.expectedCloseOn ??
        (this.before ? '' : this.user.workdayFrom(addDays(this.user.today(), usualDaysToClose))),
    ),
    winProbability: field(this.before?.ownProbability ?? null),
    next: firstStepControls(this.user.nextWorkday()),
    ...plainControls(dealPlain, this.before),
    competitors: field(this.before?.competitors.join(', ') ?? ''),
    ownerId: field<string>(this.before?.ownerId ?? this.user.person()?.id ?? ''),
    parentId: field<string>(this.before?.parent?.id ?? ''),
    custom: this.own.controls,
  });
  /** Also the one it is in, should it have no rate any more. */
  protected readonly currencies = sameWords([
    ...new Set([...this.user.currencies(), this.form.controls.currency.value]),
  ]);
  protected readonly colleagues = computed(() => named(this.peopleWords.colleagues()));
  protected readonly lines = signal<readonly TypedLine[]>(
    this.before?.lines.map((line) => typedLineOf(line, this.before!.currency)) ?? [],
  );
  protected readonly people = signal<readonly { contactId: string; role: DealRole }[]>(
    this.before?.people ?? [],
  );
  protected readonly team = signal<ReadonlySet<string>>(new Set(this.before?.team.map(({ id }) => id)));
  protected readonly plain = dealPlain;
  protected readonly companyOf = companyOf;

  constructor() {
    this.words.wake();
    const { controls } = this.form;
    effect(() => {
      const [first] = this.words.stages();
      if (controls.stageId.value === '' && first) controls.stageId.setValue(first.id);
    });
    // A deal with product lines is worth their sum.
    effect(() => {
      if (this.lines().length > 0) controls.amountMinor.disable();
      else controls.amountMinor.enable();
    });
    if (this.before) controls.next.disable();
  }

  protected addPerson(contactId: string): void {
    if (contactId) this.people.update((people) => [...people, { contactId, role: 'decides' }]);
  }

  protected giveRole(at: number, role: string | null): void {
    this.people.update((people) =>
      people.map((each, index) => (index === at ? { ...each, role: role as DealRole } : each)),
    );
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
    return this.own.say(path, value);
  };

  protected save(): void {
    const { controls, submission } = this.form;
    const custom = this.own.read();
    if (custom instanceof ApiProblem) return submission.problem.set(custom);
    const shared = this.shared(custom);
    const done = (made: Deal) => this.dialog.close(made);
    const { before } = this;
    if (before)
      this.form.send(
        { ...shared, version: before.version, ownerId: controls.ownerId.value },
        (body) =>
          this.api.call('changeDeal', {
            params: { id: before.id },
            body: body as CallOf<'changeDeal'>['body'],
          }),
        done,
      );
    else
      this.form.send(
        { ...shared, next: nextOf(controls.next, this.user.minutes()) },
        (body) => this.api.call('createDeal', { body: body as CallOf<'createDeal'>['body'] }),
        done,
      );
  }

  private shared(custom: object) {
    const typed = this.form.getRawValue();
    return {
      name: typed.name,
      stageId: typed.stageId,
      amountMinor: this.lines().length > 0 ? 0 : typed.amountMinor,
      currency: typed.currency,
      expectedCloseOn: typed.expectedCloseOn || null,
      winProbability: typed.winProbability,
      ...(typed.contactId ? { contactId: typed.contactId } : {}),
      lines: this.lines().map((line) => lineOf(line, typed.currency)),
      people: this.people().map(({ contactId, role }) => ({ contactId, role })),
      teamIds: [...this.team()],
      competitors: typed.competitors
        .split(',')
        .map((name) => name.trim())
        .filter(Boolean),
      ...readPlain(dealPlain, this.form.controls),
      parentId: typed.parentId || null,
      custom,
    };
  }
}
