import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, Lead, LeadStatus, SimilarContact } from '@kettle/contract';
import { leadPlain } from '@kettle/contract/base/catalogues';
import { leadStatusLabel } from '@kettle/contract/labels';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Conflicts, resolvedOf, type Choices } from '../../kit/conflicts';
import { choiceParts } from '../../kit/choice';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords, PersonPicker, PlainInputs, plainTexts, readPlainTexts } from '../fields/index';

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
  imports: [choiceParts, MatButtonModule, Conflicts, FormsModule, MatDialogModule, PersonPicker, PlainInputs],
  templateUrl: './lead-dialog.html',
})
export class LeadDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<LeadDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly people = inject(PeopleWords);
  protected readonly asked = inject<LeadAsked>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly like = signal<readonly SimilarContact[]>([]);
  protected readonly before = this.asked.lead ?? null;
  /** What was sent last, and whose value holds where somebody else changed the same field. */
  protected readonly sent = signal<object>({});
  protected readonly choices = signal<Choices>({});

  /** Somebody new, a firm without a person, or somebody known. */
  protected readonly on = signal<'person' | 'firm' | 'known'>(
    this.asked.contactId === undefined ? 'person' : 'known',
  );
  protected readonly isKnown = computed(() => this.on() === 'known');
  protected readonly kinds = [
    { on: 'person', words: 'somebody new' },
    { on: 'firm', words: 'a firm' },
    { on: 'known', words: 'somebody known' },
  ] as const;
  protected contactId = this.asked.contactId ?? '';
  protected givenName = this.asked.name?.split(' ').slice(0, -1).join(' ') ?? '';
  protected familyName = this.asked.name?.split(' ').at(-1) ?? '';
  protected companyName = '';
  protected email = this.asked.email ?? '';
  protected phone = '';
  protected readonly plain = leadPlain;
  protected readonly texts = plainTexts(
    leadPlain,
    this.before ?? { subject: this.asked.subject ?? null, source: this.asked.source ?? null },
  );
  protected status = this.before?.status ?? 'untried';
  /** 'rule' lets the organisation decide, 'pool' gives it to nobody. */
  protected owner: string = this.before
    ? (this.before.ownerId ?? 'pool')
    : (this.user.person()?.id ?? 'rule');

  constructor() {
    this.people.wake();
  }

  /** Looks for who it may already be, whenever a field is left. */
  protected look(): void {
    if (this.isKnown() || !(this.email || this.phone || this.familyName)) return;
    const { givenName, familyName, companyName, email, phone } = this;
    const body = { givenName, familyName, companyName, email, phone, country: this.user.person()?.country };
    this.api.call('similarContacts', { body }).subscribe(({ like }) => this.like.set(like));
  }

  protected take(like: SimilarContact): void {
    this.contactId = like.contact.id;
    this.on.set('known');
    this.like.set([]);
  }

  protected readonly say = (path: string, value: unknown): string | null => {
    if (path === 'status') return leadStatusLabel[value as LeadStatus];
    if (path !== 'ownerId') return null;
    return value === null ? 'the pool' : this.people.colleague(value as string);
  };

  protected save(): void {
    const asked = this.before ? this.change(this.before) : this.make();
    asked.subscribe({
      next: (lead) => this.dialog.close(lead),
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  private change(before: Lead) {
    const ownerId = this.owner === 'pool' ? null : this.owner;
    const status = this.status === before.status ? {} : { status: this.status };
    const body = {
      ...readPlainTexts(leadPlain, this.texts),
      ...status,
      version: before.version,
      ...resolvedOf(this.problem(), this.choices()),
      ownerId,
    } as CallOf<'changeLead'>['body'];
    this.sent.set(body ?? {});
    return this.api.call('changeLead', { params: { id: before.id }, body });
  }

  private make() {
    const owner = this.owner === 'rule' ? {} : { ownerId: this.owner === 'pool' ? null : this.owner };
    const isFirm = this.on() === 'firm';
    const person = {
      ...(isFirm ? { category: 'organisation' } : {}),
      givenName: isFirm ? '' : this.givenName,
      familyName: isFirm ? '' : this.familyName,
      companyName: this.companyName.trim() || null,
      email: this.email.trim() || null,
      phone: this.phone.trim() || null,
    };
    const on = this.isKnown() ? { contactId: this.contactId } : { person };
    // Somebody known keeps their owner.
    const body = {
      ...readPlainTexts(leadPlain, this.texts),
      ...on,
      ...(this.isKnown() ? {} : owner),
    } as CallOf<'createLead'>['body'];
    return this.api.call('createLead', { body });
  }
}
