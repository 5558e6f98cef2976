import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { noticeKinds, type Notification as Told } from '@kettle/contract';
import { showPart } from '../../../testing/part';
import { BrowserNotices } from '../../services/browser-notices';
import { ToldSettingsPart } from './told-settings';

const choices = noticeKinds.map((kind) => ({ kind, level: 'all', byBrowser: true, byMail: false }));
const path = '/api/notifications/settings';

describe('what I am told', () => {
  const show = async (digestMinute: number | null = null) => {
    const part = await showPart(ToldSettingsPart);
    await part.answer(path, { choices, digestMinute, quietHours: null });
    return part;
  };

  test('has a line for each kind, and sends them all back', async () => {
    const part = await show(450);
    expect(part.root.querySelectorAll('tbody tr')).toHaveLength(noticeKinds.length);
    await part.choose('By the bell: People who have gone quiet', 'none');
    await part.click(
      part.root.querySelector<HTMLElement>('[aria-label^="By mail: Comments"] input') ??
        part.root.querySelector<HTMLElement>('input[aria-label^="By mail: Comments"]')!,
    );
    await part.click(part.button('Save what I am told'));
    expect(part.asked(path).request.body).toEqual({
      choices: choices.map((each) =>
        each.kind === 'quiet'
          ? { ...each, level: 'none' }
          : each.kind === 'mention'
            ? { ...each, byMail: true }
            : each,
      ),
      digestMinute: 450,
      quietHours: null,
    });
  });

  test('the morning’s mail is sent at a time that is typed, or not at all', async () => {
    const part = await show();
    await part.type(part.field(/^My day by mail/), '7:45');
    await part.click(part.button('Save what I am told'));
    expect(part.asked(path).request.body).toMatchObject({ digestMinute: 465 });
  });
});

test('quiet hours are sent with both ends, or not at all; whoever is named is always told', async () => {
  const part = await showPart(ToldSettingsPart);
  await part.answer(path, { choices, digestMinute: null, quietHours: { from: 1200, to: 420 } });
  expect(part.field(/^Quiet from/).value).toBe('20:00');
  await part.type(part.field('Quiet until'), '8:00');
  await part.click(part.button('Save what I am told'));
  expect(part.asked(path).request.body).toMatchObject({ quietHours: { from: 1200, to: 480 } });
});

describe('the browser tells', () => {
  const shown: { title: string; body?: string; tag?: string; press: () => void }[] = [];
  const told = (n: number, part: object = {}): Told =>
    ({
      ...{ id: `n${n}`, words: `notice ${n}`, path: '/round', at: `2026-11-24T09:0${n}:00.000Z` },
      ...{ isRead: false, kind: 'given', byBrowser: true, ...part },
    }) as Told;
  let hidden = true;
  beforeEach(() => {
    shown.length = 0;
    hidden = true;
    class Fake {
      static permission = 'granted';
      constructor(title: string, { body, tag }: { body?: string; tag?: string }) {
        shown.push({ title, ...(body && { body }), ...(tag && { tag }), press: () => this.listener() });
      }
      private listener: () => void = () => undefined;
      addEventListener(_: string, listener: () => void) {
        this.listener = listener;
      }
      close() {}
    }
    Object.assign(globalThis, { Notification: Fake });
    Object.defineProperty(document, 'hidden', { configurable: true, get: () => hidden });
    window.focus = () => undefined;
  });
  afterEach(() => {
    Reflect.deleteProperty(globalThis, 'Notification');
    Reflect.deleteProperty(document, 'hidden');
  });

  test('only what is new, as the kind is wished, while the page is not looked at', () => {
    const notices = TestBed.inject(BrowserNotices);
    notices.tell([told(1)]);
    expect(shown).toEqual([]);
    notices.tell([told(3, { byBrowser: false }), told(2), told(1)]);
    expect(shown).toMatchObject([{ title: 'Ash Kettle', body: 'notice 2', tag: 'n2' }]);
    hidden = false;
    notices.tell([told(4), told(3)]);
    expect(shown).toHaveLength(1);
    hidden = true;
    notices.tell([told(5, { isRead: true }), told(4)]);
    expect(shown).toHaveLength(1);
  });

  test('a press leads to what it is about', () => {
    const notices = TestBed.inject(BrowserNotices);
    const gone: string[] = [];
    jest.spyOn(TestBed.inject(Router), 'navigateByUrl').mockImplementation((url) => {
      gone.push(String(url));
      return Promise.resolve(true);
    });
    notices.tell([told(1)]);
    notices.tell([told(2, { path: '/people/1' }), told(1)]);
    shown[0]!.press();
    expect(gone).toEqual(['/people/1']);
  });

  test('where it may not, nothing is told', () => {
    Object.assign(globalThis.Notification, { permission: 'denied' });
    const notices = TestBed.inject(BrowserNotices);
    notices.tell([told(1)]);
    notices.tell([told(2), told(1)]);
    expect(shown).toEqual([]);
    expect(notices.permission()).toBe('denied');
  });
});
