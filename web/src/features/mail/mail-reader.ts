import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Mail, MailDifference, MailWriter } from '@kettle/contract';
import { ChoiceField } from '../../kit/choice-field';
import { PhonePipe } from '../../kit/phone.pipe';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { PersonPicker } from '../fields/index';
import { InvitationPanel } from './invitation-panel';

/** One mail with what can be done about it. Its HTML comes cleaned from the server and is cleaned once more on its way in. */
@Component({
  selector: 'kettle-mail-reader',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    InvitationPanel,
    ChoiceField,
    CountPipe,
    PhonePipe,
    MatButtonModule,
    RouterLink,
    MomentPipe,
    PersonPicker,
  ],
  template: `
    @if (mail(); as it) {
      <article [attr.aria-label]="it.subject || texts.noSubject">
        <header>
          <h2>{{ it.subject || texts.noSubject }}</h2>
          <p class="soft">
            {{ it.fromName }} {{ it.fromAddress }} → {{ it.toAddress }} · {{ it.at | moment }}
          </p>
          @if (it.proof === 'contradicted') {
            <p i18n class="now">
              <b>Probably not from {{ it.fromAddress }}:</b>
              its domain says that it did not send this. {{ it.proofWords }}
            </p>
          } @else if (it.proof === 'unproven') {
            <p>
              <b i18n>Not proven to be from {{ it.fromAddress }}.</b>
              &ngsp;
              <span class="soft">{{ it.proofWords }}</span>
            </p>
          } @else if (it.proof === 'proven') {
            <p i18n class="soft">Proven: {{ it.proofWords }}</p>
          }
          @if (it.contactId) {
            <p i18n>
              with
              <a [routerLink]="['/people', it.contactId]">
                <b>{{ it.contactName }}</b>
              </a>
              <span class="soft">{{ it.companyName }}</span>
            </p>
          }
          <a
            i18n
            matButton
            class="bare"
            [href]="fileOf(it)"
            download
            draggable="true"
            (dragstart)="dragOut($event, it)"
          >
            as a file
          </a>
        </header>
        @if (it.invitation) {
          <kettle-invitation-panel [mail]="it" (changed)="changed.emit()" />
        }
        @switch (it.state) {
          @case ('unfiled') {
            <div class="file" role="group" aria-label="File it" i18n-aria-label>
              @if (follows(); as words) {
                <p class="follows">{{ words }}</p>
              }
              <b i18n>Whose is it?</b>
              @for (person of it.proposed; track person.contactId; let first = $first) {
                <button
                  matButton="outlined"
                  type="button"
                  [class.main]="first"
                  (click)="file.emit({ id: person.contactId, name: person.name, dealId: dealOf(person) })"
                >
                  {{ person.name }}
                  @if (first) {
                    <kbd>P</kbd>
                  }
                </button>
                <span class="soft">{{ person.why }}</span>
                @if (person.deals.length > 0) {
                  <kettle-choice-field
                    small
                    [ariaLabel]="texts.dealWith + person.name"
                    [value]="dealOf(person) ?? none"
                    (valueChange)="chooseDeal(person.contactId, $event)"
                    [options]="dealsOf(person.deals)"
                  />
                }
              }
              <kettle-person-picker
                small
                label="Somebody else"
                i18n-label
                [isRepeated]="true"
                (pickedRow)="file.emit({ id: $event.id, name: $event.name })"
                placeholder="somebody else"
                i18n-placeholder
              />
              <button i18n matButton="outlined" type="button" (click)="takeIn.emit()">
                New from this mail
                <kbd>L</kbd>
              </button>
              <button i18n matButton="outlined" type="button" (click)="letGo.emit()">
                Dismiss
                <kbd>X</kbd>
              </button>
            </div>
          }
          @case ('held') {
            <div class="held">
              <p i18n class="now">
                Nobody can know whether this arrived: the server broke off after it was handed over.
              </p>
              <ul>
                @for (words of it.known; track words) {
                  <li>{{ words }}</li>
                }
              </ul>
              <p class="spread">
                <button i18n matButton="outlined" type="button" (click)="decide.emit('arrived')">
                  It arrived
                </button>
                <button i18n matButton="outlined" type="button" (click)="decide.emit('send-again')">
                  Send it once more
                </button>
              </p>
            </div>
          }
          @case ('let-go') {
            <button i18n matButton="outlined" type="button" (click)="takeBack.emit()">Take it back</button>
          }
          @default {
            @if (it.said) {
              <p class="soft">{{ it.said }}</p>
            }
          }
        }
        @if (it.deals.length > 0) {
          <div class="deal">
            @if (it.dealId === null) {
              <button matButton="outlined" type="button" (click)="putWith.emit(it.deals[0]!.id)">
                <ng-container i18n>Put with “{{ it.deals[0]!.name }}”</ng-container>
                <kbd>D</kbd>
              </button>
            }
            <kettle-choice-field
              label="Deal"
              i18n-label
              [value]="it.dealId ?? none"
              (valueChange)="putWith.emit($event === none ? null : $event)"
              [options]="dealsOf(it.deals)"
            />
          </div>
        }
        @if (writer(); as said) {
          @if (said.differs.length > 0) {
            <section class="differs" aria-label="Their signature" i18n-aria-label>
              <b i18n>Their signature says:</b>
              <ul>
                @for (each of said.differs; track each.field + each.said) {
                  <li>
                    {{ fieldWords[each.field] }}
                    @if (each.label) {
                      ({{ each.label }})
                    }
                    <b>{{ each.field === 'phone' ? (each.said | phone) : each.said }}</b>
                    @if (each.now) {
                      <span i18n class="soft">now {{ each.now }}</span>
                    }
                    <button i18n matButton type="button" (click)="takeOver.emit([each])">Take over</button>
                  </li>
                }
              </ul>
              @if (said.differs.length > 1) {
                <button i18n matButton="outlined" type="button" (click)="takeOver.emit(said.differs)">
                  Take all over
                  <kbd>K</kbd>
                </button>
              }
            </section>
          }
        }
        @if (it.direction === 'in' && it.contactId) {
          <p>
            <button i18n matButton="outlined" type="button" (click)="answer.emit()">
              Answer
              <kbd>A</kbd>
            </button>
          </p>
        }
        @if (it.html !== null && !isPlain()) {
          @if (it.blockedPictures > 0) {
            <p i18n class="soft">
              {{ it.blockedPictures | count: texts.pictures }} from elsewhere not fetched: their sender would
              see that you read this.
            </p>
          }
          <div class="body" [innerHTML]="it.html"></div>
          <button i18n matButton type="button" (click)="isPlain.set(true)">as plain text</button>
        } @else {
          <div class="body text">{{ it.text }}</div>
          @if (it.html !== null) {
            <button i18n matButton type="button" (click)="isPlain.set(false)">as it was laid out</button>
          }
        }
        @if (it.thread.length > 1) {
          <h3 i18n>The whole exchange</h3>
          <ol>
            @for (row of it.thread; track row.id) {
              <li [class.this]="row.id === it.id">
                <b>{{ row.direction === 'in' ? row.fromName || row.fromAddress : texts.we }}</b>
                <span class="soft">{{ row.at | moment }}</span>
                <span class="opening">{{ row.opening }}</span>
              </li>
            }
          </ol>
        }
      </article>
    }
  `,
  styles: `
    article {
      display: grid;
      gap: var(--space-3);
      padding: var(--space-4);
      border: 1px solid var(--hairline);
      background: var(--sheet);
    }
    .file {
      display: flex;
      flex-wrap: wrap;
      gap: 6px var(--space-3);
      align-items: center;
      padding-block: var(--space-2);
      border-block: 1px solid var(--hairline);
    }
    .follows {
      flex-basis: 100%;
    }
    .file kettle-person-picker {
      inline-size: 170px;
    }
    .file kettle-choice-field {
      inline-size: 200px;
    }
    .deal,
    .differs {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2) var(--space-3);
      align-items: center;
    }
    .differs {
      display: grid;
      justify-items: start;
      padding-block: var(--space-2);
      border-block: 1px solid var(--hairline);
    }
    .held {
      display: grid;
      gap: var(--space-2);
      padding: var(--space-3);
      background: var(--band);
    }
    .body {
      max-inline-size: 72ch;
      overflow-wrap: anywhere;
    }
    .text {
      white-space: pre-wrap;
    }
    ol li {
      padding: 5px 0;
      border-block-end: 1px solid var(--hairline);
    }
    ol .opening {
      display: block;
    }
    .this {
      background: var(--band);
    }
    .bare {
      justify-self: start;
    }
  `,
})
export class MailReader {
  protected readonly texts = {
    noSubject: $localize`no subject`,
    pictures: $localize`picture|pictures`,
    we: $localize`we`,
    dealWith: $localize`Deal with `,
    noDeal: $localize`no deal`,
  };
  protected readonly none = 'none';
  protected readonly fieldWords: Readonly<Record<MailDifference['field'], string>> = {
    jobTitle: $localize`job title`,
    familyName: $localize`family name`,
    companyName: $localize`company`,
    phone: $localize`telephone`,
  };

  /** It is otherwise now: an invitation was answered. */
  readonly changed = output();
  readonly mail = input.required<Mail>();
  /** What the mail says of a person who is known. */
  readonly writer = input<MailWriter | null>(null);
  readonly file = output<{ id: string; name: string; dealId?: string | null }>();
  readonly letGo = output();
  readonly takeIn = output();
  readonly putWith = output<string | null>();
  readonly takeOver = output<readonly MailDifference[]>();
  readonly takeBack = output();
  readonly decide = output<'arrived' | 'send-again'>();
  readonly answer = output();
  protected readonly isPlain = signal(false);
  /** Deals that were chosen in place of those proposed, by person. */
  private readonly chosenDeals = signal<Readonly<Record<string, string | null>>>({});

  protected fileOf({ id }: Mail): string {
    return `/api/mail/${id}/eml`;
  }

  /** Dragged out of the window it is the file itself, where the browser knows how. */
  protected dragOut(event: DragEvent, mail: Mail): void {
    const address = new URL(this.fileOf(mail), location.href).href;
    const name = (mail.subject || this.texts.noSubject).replace(/[:/\\]+/g, ' ').slice(0, 80);
    event.dataTransfer?.setData('DownloadURL', `message/rfc822:${name}.eml:${address}`);
    event.dataTransfer?.setData('text/uri-list', address);
  }

  /** The deal a mail goes to with a person: as it was chosen, else the one it means. */
  dealOf({ contactId, deals }: Mail['proposed'][number]): string | null {
    const chosen = this.chosenDeals()[contactId];
    return chosen === undefined ? (deals[0]?.id ?? null) : chosen;
  }

  protected chooseDeal(contactId: string, dealId: string | null): void {
    this.chosenDeals.update((chosen) => ({ ...chosen, [contactId]: dealId === this.none ? null : dealId }));
  }

  protected dealsOf(deals: Mail['deals']): { value: string; words: string }[] {
    return [
      ...deals.map(({ id, name }) => ({ value: id as string, words: name })),
      { value: this.none, words: this.texts.noDeal },
    ];
  }

  /** What filing does besides, for what is more than an answer. */
  protected readonly follows = computed(() => {
    switch (this.mail().kind) {
      case 'unsubscribe':
        return $localize`It asks for no more e-mail. Filed, it marks the person so and ends what is planned by e-mail.`;
      case 'out-of-office':
        return $localize`An automatic reply. Filed, it pauses what runs with the person until they are back.`;
      default:
        return null;
    }
  });
}
