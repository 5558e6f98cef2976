import { afterPaint } from '../../kit/after-paint';
import { LongChoiceField } from '../../kit/long-choice-field';
import { countryOptions, zoneOptions } from '../../kit/places';
import { PhoneField } from '../../kit/phone-field';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormArray, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { Channel, CompanyId, Contact, SimilarContact, OtherPoint, Site } from '@kettle/contract';
import { contactPlain, type ContactPlain } from '@kettle/contract/base/catalogues';
import { channelLabel } from '@kettle/contract/labels';
import { channelsThat } from '@kettle/contract/base/channels';
import { catchError, debounceTime, merge, of, switchMap } from 'rxjs';
import { Api, ApiProblem } from '../../api/api';
import { field, formParts, RecordForm } from '../../kit/form';
import { TagsField } from '../../kit/tags-field';
import { CurrentUser } from '../../services/current-user';
import {
  CompanyPicker,
  CustomInputs,
  OwnFields,
  PeopleWords,
  plainControls,
  PlainInputs,
  readPlain,
} from '../fields/index';
import { WordPipe, spoken } from '../../kit/value-words';

const settleMillis = 350;

/** A name to begin with, for somebody met in passing. */
export interface NewContact {
  readonly givenName?: string;
  readonly familyName?: string;
}

const pointControls = ({ kind, label, value }: OtherPoint) =>
  new FormGroup({ kind: field(kind), label: field(label ?? ''), value: field(value) });
const firmControls = ({ name, role }: { name: string; role: string | null }) =>
  new FormGroup({ name: field(name), role: field(role ?? '') });

/** Adds a person or changes one; warns of duplicates while typing; over another person's change it keeps what was typed. */
@Component({
  selector: 'kettle-contact-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WordPipe,
    formParts,
    CompanyPicker,
    LongChoiceField,
    PhoneField,
    MatCheckboxModule,
    MatButtonModule,
    MatIcon,
    CustomInputs,
    PlainInputs,
    TagsField,
  ],
  templateUrl: './contact-dialog.html',
  styleUrl: './contact-dialog.scss',
})
export class ContactDialog {
  protected readonly texts = {
    change: (name: string | number) => $localize`Change ${name}:name:`,
    addAPerson: $localize`Add a person`,
    save: $localize`Save`,
    add: $localize`Add`,
    remove: (value: string | number) => $localize`Remove ${value}:value:`,
    anEMail: $localize`an e-mail`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ContactDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly words = inject(PeopleWords);
  private readonly data = inject<Contact | NewContact | null>(MAT_DIALOG_DATA);
  protected readonly before: Contact | null = this.data && 'id' in this.data ? this.data : null;
  protected readonly labels = channelLabel;
  protected readonly channels: readonly Channel[] = channelsThat(({ isOffered }) => isOffered);
  protected readonly pointKinds: readonly OtherPoint['kind'][] = ['email', 'phone', 'link'];
  protected readonly pointOptions = spoken(this.pointKinds);
  protected readonly like = signal<readonly SimilarContact[]>([]);
  private readonly sites = signal<readonly Site[]>([]);
  protected readonly siteOptions = computed(() =>
    this.sites().map(({ id, name, city }) => ({
      value: id ?? '',
      words: city ? `${name}, ${city}` : name,
    })),
  );
  protected readonly standings = computed(() => [
    ...(this.before ? [] : [{ value: '', words: $localize`by the source` }]),
    ...this.words.standings().map(({ standing }) => ({ value: standing.id as string, words: standing.name })),
  ]);

  /** The catalogue's fields: those of people beside their firm, the others further down. */
  protected readonly plain = contactPlain;
  protected readonly ofPeople = contactPlain.keys.filter((key) => contactPlain.of(key).isOfPeople);
  protected readonly ofAll = contactPlain.keys.filter((key) => !contactPlain.of(key).isOfPeople);

  protected readonly own = new OwnFields('contact', this.before?.custom);
  protected readonly form = new RecordForm({
    category: field(this.before?.category ?? 'person'),
    givenName: field(this.before?.givenName ?? this.data?.givenName ?? ''),
    familyName: field(this.before?.familyName ?? this.data?.familyName ?? ''),
    companyName: field(this.before?.companyName ?? ''),
    email: field(this.before?.email ?? ''),
    emailLabel: field(this.before?.emailLabel ?? ''),
    phone: field(this.before?.phone ?? ''),
    phoneLabel: field(this.before?.phoneLabel ?? ''),
    ...plainControls(contactPlain, this.before),
    country: field(this.before?.country ?? ''),
    zone: field(this.before?.zoneByHand ? this.before.zone : ''),
    siteId: field<string>(this.before?.siteId ?? ''),
    standingId: field<string>(this.before?.standingId ?? ''),
    checkInDays: field(this.before?.checkInDays ?? null),
    tags: field<readonly string[]>(this.before?.tags ?? []),
    about: field(this.before?.about ?? ''),
    otherPoints: new FormArray(this.before?.otherPoints.map(pointControls) ?? []),
    otherCompanies: new FormArray(this.before?.otherCompanies.map(firmControls) ?? []),
    custom: this.own.controls,
  });
  protected readonly at = this.form.controls;
  /** Which company of the name was chosen. */
  protected readonly companyId = signal<string | null>(this.before?.companyId ?? null);
  protected readonly forbidden = new Set<Channel>(this.before?.doNotContact.map((mark) => mark.channel));
  /** What lies below the fold comes after the rest has been seen. */
  protected readonly isPainted = afterPaint();
  private readonly homeCountry = this.user.person()?.country ?? 'GB';

  constructor() {
    this.words.wake();
    this.words.wakeTags();
    const { givenName, familyName, companyName, email, phone } = this.at;
    merge(...[givenName, familyName, companyName, email, phone].map(({ valueChanges }) => valueChanges))
      .pipe(
        debounceTime(settleMillis),
        switchMap(() =>
          this.api
            .call('similarContacts', { body: this.similarTo() })
            .pipe(catchError(() => of({ like: [] }))),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ like }) => this.like.set(like));
    if (this.before?.companyId)
      this.api.call('getCompany', { params: { id: this.before.companyId } }).subscribe({
        next: ({ company }) => this.sites.set(company.sites),
        error: () => this.sites.set([]),
      });
  }

  protected forbid(channel: Channel, isForbidden: boolean): void {
    if (isForbidden) this.forbidden.add(channel);
    else this.forbidden.delete(channel);
  }

  protected addPoint(kind: OtherPoint['kind']): void {
    this.at.otherPoints.push(pointControls({ kind, label: null, value: '' }));
  }

  /** The address or number is the one that is used from now on; the one before it becomes a further one. */
  protected prefer(index: number): void {
    const { otherPoints, email, emailLabel, phone, phoneLabel } = this.at;
    const point = otherPoints.at(index).getRawValue();
    if (point.kind === 'link') return;
    const [value, label] = point.kind === 'email' ? [email, emailLabel] : [phone, phoneLabel];
    const was = { kind: point.kind, label: label.value, value: value.value };
    value.setValue(point.value);
    label.setValue(point.label);
    if (was.value) otherPoints.at(index).setValue(was);
    else otherPoints.removeAt(index);
  }

  protected addCompany(): void {
    this.at.otherCompanies.push(firmControls({ name: '', role: null }));
  }

  protected openSimilar(like: SimilarContact): void {
    this.dialog.close({ id: like.contact.id });
  }

  protected readonly countries = countryOptions($localize`from site or number`);
  protected readonly zones = zoneOptions(
    this.before?.zone ?? '',
    this.before && !this.before.zoneByHand ? this.before.zone : $localize`from site or country`,
  );

  protected readonly say = (path: string, value: unknown): string | null =>
    path === 'standingId'
      ? (this.words.standings().find(({ standing }) => standing.id === value)?.standing.name ?? null)
      : this.own.say(path, value);

  protected save(): void {
    const custom = this.own.read();
    if (custom instanceof ApiProblem) return this.form.submission.problem.set(custom);
    const { before } = this;
    const body = this.typed(custom);
    const { standingId } = this.form.getRawValue();
    if (before)
      this.form.send(
        { ...body, standingId, version: before.version },
        (sent) => this.api.call('changeContact', { params: { id: before.id }, body: sent }),
        (contact) => this.dialog.close(contact),
      );
    else
      this.form.send(
        { ...body, ...(standingId ? { standingId } : {}) },
        (sent) => this.api.call('createContact', { body: sent }),
        (contact) => this.dialog.close(contact),
      );
  }

  private typed(custom: ReturnType<OwnFields['read']>) {
    const typed = this.form.getRawValue();
    const orNull = (text: string) => text.trim() || null;
    return {
      category: typed.category,
      givenName: typed.givenName,
      familyName: typed.familyName,
      ...(readPlain(contactPlain, this.at) as ContactPlain),
      companyName: orNull(typed.companyName),
      companyId: this.companyId() as CompanyId | null,
      email: orNull(typed.email),
      emailLabel: orNull(typed.emailLabel),
      phone: orNull(typed.phone),
      phoneLabel: orNull(typed.phoneLabel),
      country: orNull(typed.country),
      zone: orNull(typed.zone),
      siteId: typed.siteId || null,
      checkInDays: typed.checkInDays || null,
      tags: [...typed.tags],
      about: typed.about,
      otherPoints: typed.otherPoints
        .filter(({ value }) => value.trim() !== '')
        .map((point) => ({ ...point, label: orNull(point.label) })),
      otherCompanies: typed.otherCompanies
        .filter(({ name }) => name.trim() !== '')
        .map((firm) => ({ ...firm, role: orNull(firm.role) })),
      doNotContact: [...this.forbidden],
      custom: custom as Record<string, never>,
    };
  }

  private similarTo() {
    const { givenName, familyName, companyName, email, phone, country } = this.form.getRawValue();
    const draft = { givenName, familyName, companyName, email, phone };
    const two = /^[A-Za-z]{2}$/.test(country) ? country.toUpperCase() : this.homeCountry;
    return { ...draft, country: two, ...(this.before ? { except: this.before.id } : {}) };
  }
}
