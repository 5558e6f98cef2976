import { PhoneWords } from '../../kit/phone.pipe';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Channel, Contact, CustomField } from '@kettle/contract';
import { contactPlain } from '@kettle/contract/base/catalogues';
import { MomentPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';

interface Fact {
  readonly name: string;
  readonly words: string;
  readonly href?: string | undefined;
  readonly path?: readonly string[] | undefined;
}

/** Everything known of a contact; empty fields are hidden until they are asked for. */
@Component({
  selector: 'kettle-contact-facts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, RouterLink, MomentPipe],
  template: `
    <dl>
      @for (fact of shown(); track $index) {
        <dt>{{ fact.name }}</dt>
        <dd>
          @if (fact.path; as path) {
            <a [routerLink]="path">{{ fact.words }}</a>
          } @else if (fact.href; as href) {
            <a [href]="href" rel="noopener noreferrer">{{ fact.words }}</a>
          } @else {
            {{ fact.words || '—' }}
          }
        </dd>
      }
      <dt i18n>added</dt>
      <dd>{{ contact().createdAt | moment }}</dd>
    </dl>
    <p class="spread">
      @if (mayChange()) {
        <button i18n matButton="outlined" type="button" (click)="edit.emit()">Change</button>
      }
      <button matButton type="button" (click)="withEmpty.set(!withEmpty())">
        {{ withEmpty() ? texts.hideEmptyFields : texts.showEmptyFields }}
      </button>
    </p>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 6px var(--space-3);
      padding-block-end: var(--space-3);
    }
    dt {
      color: var(--text-soft);
    }
    dd {
      overflow-wrap: anywhere;
      white-space: pre-line;
    }
  `,
})
export class ContactFacts {
  protected readonly texts = {
    hideEmptyFields: $localize`hide empty fields`,
    showEmptyFields: $localize`show empty fields`,
  };

  private readonly words = inject(PeopleWords);
  private readonly user = inject(CurrentUser);
  private readonly phones = inject(PhoneWords);
  readonly contact = input.required<Contact>();
  readonly mayChange = input(true);
  readonly edit = output();
  protected readonly withEmpty = signal(false);

  private readonly facts = computed((): Fact[] => {
    const contact = this.contact();
    const isFree = (channel: Channel) => !contact.doNotContact.some((mark) => mark.channel === channel);
    // A channel that is not to be used is shown, never a link that starts it.
    const mail = (value: string) => (isFree('email') ? `mailto:${value}` : undefined);
    const tel = (value: string) => (isFree('call') ? `tel:${value}` : undefined);
    const labelled = (name: string, label: string | null) => (label ? `${name}, ${label}` : name);
    const of = { email: mail, phone: tel, link: (value: string) => value };
    return [
      {
        name: labelled('e-mail', contact.emailLabel),
        words:
          contact.email && contact.emailUnusable
            ? $localize`${contact.email}, mail came back`
            : (contact.email ?? ''),
        href: contact.email && !contact.emailUnusable ? mail(contact.email) : undefined,
      },
      {
        name: labelled('phone', contact.phoneLabel),
        words: contact.phone === null ? '' : this.phones.say(contact.phone),
        href: contact.phone ? tel(contact.phone) : undefined,
      },
      ...contact.otherPoints.map((point) => ({
        name: labelled(point.kind === 'email' ? 'e-mail' : point.kind, point.label),
        words: point.kind === 'phone' ? this.phones.say(point.value) : point.value,
        href: of[point.kind](point.value),
      })),
      {
        name: 'company',
        words: contact.companyName ?? '',
        path: contact.companyId ? ['/companies', contact.companyId] : undefined,
      },
      { name: 'site', words: contact.siteName ?? '' },
      ...contact.otherCompanies.map((each) => ({
        name: each.role ?? $localize`also at`,
        words: each.name,
        path: ['/companies', each.companyId],
      })),
      {
        name: 'country',
        words: `${contact.country} · ${contact.zone}${contact.zoneByHand ? $localize`, put right by hand` : ''}`,
      },
      // Who somebody is stands in the head already.
      ...contactPlain.keys
        .filter((key) => key !== 'jobTitle')
        .map((key) => ({ name: contactPlain.of(key).name, words: contact[key] ?? '' })),
      { name: 'tags', words: contact.tags.join(', ') },
      {
        name: 'check-in',
        words: contact.checkInDays ? $localize`every ${contact.checkInDays} days, their own` : '',
      },
      ...(contact.category === 'organisation'
        ? [{ name: 'category', words: $localize`an organisation` }]
        : []),
      ...this.words.fieldsOf('contact').map((field) => this.customFact(contact, field)),
      { name: 'about', words: contact.about },
    ];
  });
  protected readonly shown = computed(() =>
    this.withEmpty() ? this.facts() : this.facts().filter((fact) => fact.words !== ''),
  );

  private customFact(contact: Contact, field: CustomField): Fact {
    const value = contact.custom[field.id];
    if (field.type === 'person' && typeof value === 'string')
      return { name: field.name, words: this.words.person(value) || '…', path: ['/people', value] };
    const words = this.words.custom(value, field.type);
    return { name: field.name, words, href: field.type === 'link' && words ? words : undefined };
  }
}
