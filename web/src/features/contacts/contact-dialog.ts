import { ChangeDetectionStrategy, Component, effect, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { Channel, Contact, SimilarContact, OtherPoint, Site } from '@kettle/contract';
import { contactPlain, type ContactPlain } from '@kettle/contract/base/catalogues';
import { channelLabel } from '@kettle/contract/labels';
import { channelsThat } from '@kettle/contract/base/channels';
import { catchError, debounceTime, of, Subject, switchMap } from 'rxjs';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { Conflicts, resolvedOf, type Choices } from '../../kit/conflicts';
import { choiceParts } from '../../kit/choice';
import { CurrentUser } from '../../services/current-user';
import {
  CustomInputs,
  PeopleWords,
  PlainInputs,
  addCustomTexts,
  plainTexts,
  readCustomTexts,
  readPlainTexts,
} from '../fields/index';

const settleMillis = 350;

/** A name to begin with, for somebody met in passing. */
export interface NewContact {
  readonly givenName?: string;
  readonly familyName?: string;
}

/** Adds a person or changes one; warns of duplicates while typing; over another person's change it keeps what was typed. */
@Component({
  selector: 'kettle-contact-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    choiceParts,
    MatCheckboxModule,
    MatButtonModule,
    Conflicts,
    FormsModule,
    MatDialogModule,
    MatIcon,
    CustomInputs,
    PlainInputs,
  ],
  templateUrl: './contact-dialog.html',
  styleUrl: './contact-dialog.scss',
})
export class ContactDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ContactDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly words = inject(PeopleWords);
  private readonly data = inject<Contact | NewContact | null>(MAT_DIALOG_DATA);
  protected readonly before: Contact | null = this.data && 'id' in this.data ? this.data : null;
  protected readonly labels = channelLabel;
  protected readonly channels: readonly Channel[] = channelsThat(({ isOffered }) => isOffered);
  protected readonly pointKinds: readonly OtherPoint['kind'][] = ['email', 'phone', 'link'];
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly like = signal<readonly SimilarContact[]>([]);
  protected readonly sites = signal<readonly Site[]>([]);
  /** What was sent last, and whose value holds where somebody else changed the same field. */
  protected readonly sent = signal<object>({});
  protected readonly choices = signal<Choices>({});
  private readonly typed = new Subject<void>();

  /** The catalogue's fields: those of people beside their firm, the others further down. */
  protected readonly plain = contactPlain;
  protected readonly ofPeople = contactPlain.keys.filter((key) => contactPlain.of(key).isOfPeople);
  protected readonly ofAll = contactPlain.keys.filter((key) => !contactPlain.of(key).isOfPeople);
  protected readonly texts = plainTexts(contactPlain, this.before);

  protected readonly form = {
    category: this.before?.category ?? 'person',
    givenName: this.before?.givenName ?? this.data?.givenName ?? '',
    familyName: this.before?.familyName ?? this.data?.familyName ?? '',
    companyName: this.before?.companyName ?? '',
    email: this.before?.email ?? '',
    emailLabel: this.before?.emailLabel ?? '',
    phone: this.before?.phone ?? '',
    phoneLabel: this.before?.phoneLabel ?? '',
    country: this.before?.country ?? '',
    zone: this.before?.zoneByHand ? this.before.zone : '',
    siteId: (this.before?.siteId ?? '') as string,
    standingId: (this.before?.standingId ?? '') as string,
    checkInDays: this.before?.checkInDays ?? null,
    tags: this.before?.tags.join(', ') ?? '',
    about: this.before?.about ?? '',
  };
  protected points: OtherPoint[] = this.before?.otherPoints.map((point) => ({ ...point })) ?? [];
  protected companies: { name: string; role: string | null }[] =
    this.before?.otherCompanies.map(({ name, role }) => ({ name, role })) ?? [];
  protected readonly forbidden = new Set<Channel>(this.before?.doNotContact.map((mark) => mark.channel));
  protected readonly custom: Record<string, string> = {};
  protected readonly homeCountry = this.user.person()?.country ?? 'GB';

  constructor() {
    this.words.wake();
    effect(() => addCustomTexts(this.custom, this.before?.custom ?? {}, this.words.contactFields()));
    this.typed
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

  protected look(): void {
    this.typed.next();
  }

  protected forbid(channel: Channel, isForbidden: boolean): void {
    if (isForbidden) this.forbidden.add(channel);
    else this.forbidden.delete(channel);
  }

  protected addPoint(kind: OtherPoint['kind']): void {
    this.points = [...this.points, { kind, label: null, value: '' }];
  }

  protected removePoint(at: number): void {
    this.points = this.points.filter((_, index) => index !== at);
  }

  /** The address or number is the one that is used from now on; the one before it becomes a further one. */
  protected prefer(at: number): void {
    const point = this.points[at]!;
    if (point.kind === 'link') return;
    const label = point.kind === 'email' ? 'emailLabel' : 'phoneLabel';
    const was = { kind: point.kind, label: this.form[label] || null, value: this.form[point.kind] };
    this.form[point.kind] = point.value;
    this.form[label] = point.label ?? '';
    this.points = this.points.flatMap((each, index) => (index !== at ? [each] : was.value ? [was] : []));
  }

  protected addCompany(): void {
    this.companies = [...this.companies, { name: '', role: null }];
  }

  protected removeCompany(at: number): void {
    this.companies = this.companies.filter((_, index) => index !== at);
  }

  protected openSimilar(like: SimilarContact): void {
    this.dialog.close({ id: like.contact.id });
  }

  protected readonly say = (path: string, value: unknown): string | null =>
    path === 'standingId'
      ? (this.words.standings().find(({ standing }) => standing.id === value)?.standing.name ?? null)
      : null;

  protected save(): void {
    const custom = readCustomTexts(this.custom, this.words.contactFields(), this.before?.custom ?? {});
    if (custom instanceof ApiProblem) return this.problem.set(custom);
    const { form } = this;
    const orNull = (text: string) => text.trim() || null;
    const body = {
      category: form.category,
      givenName: form.givenName,
      familyName: form.familyName,
      ...(readPlainTexts(contactPlain, this.texts) as ContactPlain),
      companyName: orNull(form.companyName),
      email: orNull(form.email),
      emailLabel: orNull(form.emailLabel),
      phone: orNull(form.phone),
      phoneLabel: orNull(form.phoneLabel),
      country: orNull(form.country.toUpperCase()),
      zone: orNull(form.zone),
      siteId: form.siteId || null,
      checkInDays: form.checkInDays || null,
      tags: form.tags
        .split(/[,;]/)
        .map((tag) => tag.trim())
        .filter(Boolean),
      about: form.about,
      otherPoints: this.points.filter((point) => point.value.trim() !== ''),
      otherCompanies: this.companies.filter((company) => company.name.trim() !== ''),
      doNotContact: [...this.forbidden],
      custom,
    };
    this.sent.set({ ...body, standingId: form.standingId });
    const asked = this.before
      ? this.api.call('changeContact', {
          params: { id: this.before.id },
          body: {
            ...body,
            standingId: form.standingId,
            version: this.before.version,
            ...resolvedOf(this.problem(), this.choices()),
          },
        })
      : this.api.call('createContact', {
          body: {
            ...body,
            ...(form.standingId ? { standingId: form.standingId } : {}),
          },
        });
    asked.subscribe({
      next: (made) => this.dialog.close(made),
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  private similarTo() {
    const { givenName, familyName, companyName, email, phone, country } = this.form;
    const draft = { givenName, familyName, companyName, email, phone };
    const two = /^[A-Za-z]{2}$/.test(country) ? country.toUpperCase() : this.homeCountry;
    return { ...draft, country: two, ...(this.before ? { except: this.before.id } : {}) };
  }
}
