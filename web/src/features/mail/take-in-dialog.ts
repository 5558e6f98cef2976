import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, Channel, Mail, MailWriter, ReplyOf, SimilarContact } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { splitName } from '@kettle/core/duplicates';
import { addDays } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayField } from '../../kit/day-field';
import { field, formParts, labelled, named, RecordForm, required } from '../../kit/form';
import { PhoneField } from '../../kit/phone-field';
import { PhoneWords } from '../../kit/phone.pipe';
import { Proposal } from '../../kit/proposal';
import { ProposedField } from '../../kit/proposed-field';
import { WordPipe } from '../../kit/value-words';
import { CurrentUser } from '../../services/current-user';
import { DealWords, StageField } from '../deals/index';
import { companyNames, PeopleWords } from '../fields/index';

export interface TakeInAsked {
  readonly mail: Mail;
}

/** What became of a mail: somebody new, or somebody known with whom it is to be filed. */
export type TakenIn =
  | { readonly made: ReplyOf<'takeMailIn'>; readonly name: string; readonly changeId: string }
  | { readonly known: { readonly id: string; readonly name: string } };

const usualDaysToClose = 30;
const texts = ['givenName', 'familyName', 'jobTitle', 'companyName', 'phone'] as const;
const places = ['street', 'postcode', 'city', 'website'] as const;

/**
 * Makes somebody new of a mail on one screen: alone, with a lead, or with firm and deal, and what comes next. What their signature says
 * stands beside each field; one key takes all of it.
 */
@Component({
  selector: 'kettle-take-in-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    formParts,
    DayField,
    MatButtonModule,
    MatCheckboxModule,
    PhoneField,
    Proposal,
    ProposedField,
    StageField,
    WordPipe,
  ],
  templateUrl: './take-in-dialog.html',
  styleUrl: './take-in-dialog.scss',
})
export class TakeInDialog {
  protected readonly acts = {
    person: $localize`Create person`,
    lead: $localize`Create lead`,
    deal: $localize`Create deal`,
  };
  protected readonly kinds = [
    { as: 'person', words: $localize`the person` },
    { as: 'lead', words: $localize`a lead` },
    { as: 'deal', words: $localize`person, company and deal` },
  ] as const;

  private readonly api = inject(Api);
  private readonly dialog = inject<MatDialogRef<TakeInDialog, TakenIn>>(MatDialogRef);
  protected readonly user = inject(CurrentUser);
  protected readonly dealWords = inject(DealWords);
  private readonly people = inject(PeopleWords);
  private readonly phones = inject(PhoneWords);
  protected readonly mail = inject<TakeInAsked>(MAT_DIALOG_DATA).mail;
  protected readonly channels = labelled(channelLabel);
  protected readonly colleagues = computed(() => named<string>(this.people.colleagues()));
  protected readonly making = signal<'person' | 'lead' | 'deal'>('lead');
  protected readonly isFollowedUp = signal(true);

  private readonly all = viewChild<unknown, ElementRef<HTMLButtonElement>>('all', { read: ElementRef });
  private readonly read = reading((id: string) => this.api.call('getMailWriter', { params: { id } }));
  protected readonly writer = this.read.value;

  protected readonly form = new RecordForm({
    person: new FormGroup({
      givenName: field(splitName(this.mail.fromName).givenName),
      familyName: field(splitName(this.mail.fromName).familyName),
      jobTitle: field(''),
      companyName: field(''),
      email: field(this.mail.fromAddress),
      phone: field(''),
    }),
    place: new FormGroup({ street: field(''), postcode: field(''), city: field(''), website: field('') }),
    subject: field(this.mail.subject.slice(0, 160)),
    deal: new FormGroup({
      name: required(this.mail.subject.slice(0, 160)),
      amountMinor: required<number | null>(null),
      stageId: field(''),
      expectedCloseOn: field(this.user.workdayFrom(addDays(this.user.today(), usualDaysToClose))),
    }),
    task: new FormGroup({
      purpose: required($localize`Answer: ${this.mail.subject.slice(0, 150)}:subject:`),
      channel: field<Channel>('email'),
      dueOn: required(this.user.nextWorkday()),
      ownerId: field<string>(this.user.person()?.id ?? ''),
    }),
  });
  protected readonly person = this.form.controls.person.controls;
  protected readonly place = this.form.controls.place.controls;
  protected readonly deal = this.form.controls.deal.controls;
  protected readonly task = this.form.controls.task.controls;
  protected readonly companies = companyNames(this.person.companyName);
  /** The company that was chosen of those it may be; typing another name leaves it. */
  private readonly chosen = signal<{ readonly id: string; readonly name: string } | null>(null);

  constructor() {
    this.people.wake();
    this.dealWords.wake();
    this.read.read(this.mail.id);
    // What was found comes after the dialog: whoever has typed nothing yet takes it with one key.
    effect(() => {
      const button = this.all()?.nativeElement;
      if (button && this.form.pristine) button.focus();
    });
    effect(() => {
      const [first] = this.dealWords.stages();
      if (this.deal.stageId.value === '' && first) this.deal.stageId.setValue(first.id);
    });
    // What is not asked for is not checked either.
    effect(() => {
      const { deal, task } = this.form.controls;
      if (this.making() === 'deal') deal.enable();
      else deal.disable();
      if (this.isFollowedUp()) task.enable();
      else task.disable();
    });
  }

  /** How many fields the signature would fill otherwise than they are. */
  protected readonly found = computed(() => {
    const writer = this.writer();
    const named: Partial<MailWriter> = splitName(this.mail.fromName);
    if (writer === null) return 0;
    return [...texts, ...places].filter((name) => writer[name] && writer[name] !== named[name]).length;
  });

  /** Takes all that was found; the company known by the domain goes before the name that was signed. */
  protected takeAll(): void {
    const writer = this.writer();
    if (writer === null) return;
    for (const name of texts) if (writer[name]) this.person[name].setValue(writer[name]);
    for (const name of places) if (writer[name]) this.place[name].setValue(writer[name]);
    const [known] = writer.companies;
    if (known) this.choose(known);
    this.form.markAsDirty();
  }

  protected choose(company: MailWriter['companies'][number]): void {
    this.chosen.set(company);
    this.person.companyName.setValue(company.name);
    this.person.companyName.markAsDirty();
  }

  protected asWritten(number: string | null): string {
    return number === null ? '' : this.phones.say(number);
  }

  protected fileWith({ contact }: SimilarContact): void {
    this.dialog.close({ known: { id: contact.id, name: contact.name } });
  }

  protected save(): void {
    const { person, place, subject, deal, task } = this.form.getRawValue();
    const chosen = this.chosen();
    const body = {
      version: this.mail.version,
      as: this.making(),
      person: {
        ...emptyAsNull(person),
        givenName: person.givenName,
        familyName: person.familyName,
        country: this.writer()?.country ?? null,
        otherPoints: this.furtherPoints(),
        ...(chosen?.name === person.companyName ? { companyId: chosen.id } : {}),
      },
      place: emptyAsNull(place),
      task: this.isFollowedUp() ? { ...task, minutes: this.user.minutes()[task.channel] } : null,
      ...(this.making() === 'lead' ? { subject } : {}),
      ...(this.making() === 'deal'
        ? { deal: { ...deal, expectedCloseOn: deal.expectedCloseOn || null } }
        : {}),
    };
    const changeId = v7();
    const name = `${person.givenName} ${person.familyName}`.trim();
    this.form.send(
      body,
      (sent) => {
        const call = { params: { id: this.mail.id }, body: sent as CallOf<'takeMailIn'>['body'] };
        return this.api.call('takeMailIn', call, changeId);
      },
      (made) => this.dialog.close({ made, name, changeId }),
    );
  }

  /** Numbers beside the first are kept with what they are for, once it was taken over. */
  private furtherPoints(): MailWriter['otherPoints'] {
    const writer = this.writer();
    return writer !== null && this.person.phone.value === writer.phone ? writer.otherPoints : [];
  }
}

const emptyAsNull = <Values extends Readonly<Record<string, string>>>(values: Values) =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, value.trim() || null])) as {
    [Name in keyof Values]: string | null;
  };
