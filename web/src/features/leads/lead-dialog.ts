import { PhoneField } from '../../kit/phone-field';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, Lead, LeadStatus, SimilarContact } from '@kettle/contract';
import { leadPlain } from '@kettle/contract/base/catalogues';
import { leadStatusLabel } from '@kettle/contract/labels';
import { Api, ApiProblem } from '../../api/api';
import { splitName } from '@kettle/core/duplicates';
import { field, formParts, named, RecordForm } from '../../kit/form';
import { ProposedField } from '../../kit/proposed-field';
import { TagsField } from '../../kit/tags-field';
import { CurrentUser } from '../../services/current-user';
import {
  companyNames,
  CustomInputs,
  OwnFields,
  PeopleWords,
  PersonPicker,
  plainControls,
  PlainInputs,
  readPlain,
} from '../fields/index';
import { WordPipe } from '../../kit/value-words';

export interface LeadAsked {
  /** One that is changed; none creates one. */
  readonly lead?: Lead;
  /** Of one that is created: somebody known, or what is known of somebody new. */
  readonly contactId?: string;
  readonly name?: string;
  readonly email?: string;
  readonly subject?: string;
  readonly source?: string;
}

/** Makes a lead on somebody new or known, or changes one; who it may already be is shown before it is saved. */
@Component({
  selector: 'kettle-lead-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WordPipe,
    formParts,
    PhoneField,
    ProposedField,
    TagsField,
    MatButtonModule,
    PersonPicker,
    PlainInputs,
    CustomInputs,
  ],
  templateUrl: './lead-dialog.html',
})
export class LeadDialog {
  protected readonly texts = {
    changeTheLead: $localize`Change the lead`,
    newLead: $localize`New lead`,
    save: $localize`Save`,
    addTheLead: $localize`Add the lead`,
    nameOfTheCompany: $localize`Name of the company`,
    companyAsTheySay: $localize`Company, as they say it`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<LeadDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly people = inject(PeopleWords);
  private readonly asked = inject<LeadAsked>(MAT_DIALOG_DATA);
  protected readonly like = signal<readonly SimilarContact[]>([]);
  protected readonly before = this.asked.lead ?? null;

  /** Somebody new, a firm without a person, or somebody known. */
  protected readonly on = signal<'person' | 'firm' | 'known'>(
    this.asked.contactId === undefined ? 'person' : 'known',
  );
  protected readonly isKnown = computed(() => this.on() === 'known');
  protected readonly kinds = [
    { on: 'person', words: $localize`somebody new` },
    { on: 'firm', words: $localize`a company` },
    { on: 'known', words: $localize`somebody known` },
  ] as const;
  protected readonly statuses = (['untried', 'trying', 'in-talks'] as const).map((value) => ({
    value,
    words: leadStatusLabel[value],
  }));
  /** 'rule' lets the organisation decide, 'pool' gives it to nobody. */
  protected readonly owners = computed(() => [
    ...(this.before ? [] : [{ value: 'rule', words: $localize`by the rule for new leads` }]),
    { value: 'pool', words: $localize`the pool` },
    ...named<string>(this.people.colleagues()),
  ]);
  protected readonly plain = leadPlain;
  protected readonly own = new OwnFields('lead', this.asked.lead?.custom);
  protected readonly form = new RecordForm({
    contactId: field<string>(this.asked.contactId ?? ''),
    person: new FormGroup({
      givenName: field(splitName(this.asked.name ?? '').givenName),
      familyName: field(splitName(this.asked.name ?? '').familyName),
      companyName: field(''),
      email: field(this.asked.email ?? ''),
      phone: field(''),
    }),
    ...plainControls(
      leadPlain,
      this.before ?? { subject: this.asked.subject ?? null, source: this.asked.source ?? null },
    ),
    tags: field<readonly string[]>(this.before?.tags ?? []),
    custom: this.own.controls,
    status: field<LeadStatus>(this.before?.status ?? 'untried'),
    ownerId: field<string>(
      this.before ? (this.before.ownerId ?? 'pool') : (this.user.person()?.id ?? 'rule'),
    ),
  });

  protected readonly person = this.form.controls.person.controls;
  protected readonly companies = companyNames(this.person.companyName);

  constructor() {
    this.people.wake();
    this.people.wakeTags();
  }

  /** Looks for who it may already be, whenever a field is left. */
  protected look(): void {
    const person = this.form.controls.person.getRawValue();
    if (this.isKnown() || !(person.email || person.phone || person.familyName)) return;
    const body = { ...person, country: this.user.person()?.country };
    this.api.call('similarContacts', { body }).subscribe(({ like }) => this.like.set(like));
  }

  protected take(like: SimilarContact): void {
    this.form.controls.contactId.setValue(like.contact.id);
    this.on.set('known');
    this.like.set([]);
  }

  protected readonly say = (path: string, value: unknown): string | null => {
    if (path === 'status') return leadStatusLabel[value as LeadStatus];
    if (path !== 'ownerId') return this.own.say(path, value);
    return value === null ? $localize`the pool` : this.people.colleague(value as string);
  };

  protected save(): void {
    const custom = this.own.read();
    if (custom instanceof ApiProblem) return this.form.submission.problem.set(custom);
    const done = (lead: Lead) => this.dialog.close(lead);
    const { before } = this;
    if (before)
      this.form.send(
        { ...this.changed(before), custom },
        (body) =>
          this.api.call('changeLead', {
            params: { id: before.id },
            body: body as CallOf<'changeLead'>['body'],
          }),
        done,
      );
    else
      this.form.send(
        { ...this.made(), custom },
        (body) => this.api.call('createLead', { body: body as CallOf<'createLead'>['body'] }),
        done,
      );
  }

  private changed(before: Lead) {
    const { status, ownerId, tags } = this.form.getRawValue();
    return {
      ...readPlain(leadPlain, this.form.controls),
      tags: [...tags],
      ...(status === before.status ? {} : { status }),
      version: before.version,
      ownerId: ownerId === 'pool' ? null : ownerId,
    };
  }

  private made() {
    const { contactId, person, ownerId, tags } = this.form.getRawValue();
    const plain = { ...readPlain(leadPlain, this.form.controls), tags: [...tags] };
    // Somebody known keeps their owner.
    if (this.isKnown()) return { ...plain, contactId };
    const isFirm = this.on() === 'firm';
    return {
      ...plain,
      person: {
        ...(isFirm ? { category: 'organisation' } : {}),
        givenName: isFirm ? '' : person.givenName,
        familyName: isFirm ? '' : person.familyName,
        companyName: person.companyName.trim() || null,
        email: person.email.trim() || null,
        phone: person.phone.trim() || null,
      },
      ...(ownerId === 'rule' ? {} : { ownerId: ownerId === 'pool' ? null : ownerId }),
    };
  }
}
