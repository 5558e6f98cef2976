import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Mail } from '@kettle/contract';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { PersonPicker } from '../fields/index';

/** One mail with what can be done about it. Its HTML comes cleaned from the server and is cleaned once more on its way in. */
@Component({
  selector: 'kettle-mail-reader',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CountPipe, MatButtonModule, RouterLink, MomentPipe, PersonPicker],
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
        </header>
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
                  (click)="file.emit({ id: person.contactId, name: person.name })"
                >
                  {{ person.name }}
                  @if (first) {
                    <kbd>P</kbd>
                  }
                </button>
                <span class="soft">{{ person.why }}</span>
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
              <button i18n matButton="outlined" type="button" (click)="makeLead.emit()">
                Create lead
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
  };

  readonly mail = input.required<Mail>();
  readonly file = output<{ id: string; name: string }>();
  readonly letGo = output();
  readonly makeLead = output();
  readonly takeBack = output();
  readonly decide = output<'arrived' | 'send-again'>();
  readonly answer = output();
  protected readonly isPlain = signal(false);
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
