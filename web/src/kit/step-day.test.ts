import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { CurrentUser } from '../services/current-user';
import { StepDay } from './step-day';

const none = {
  lastTouchAt: null,
  lastTouchKind: null,
  lastTouchCounts: null,
  nextStepOn: null,
  nextStepChannel: null,
  nextStepAt: null,
};

test.each([
  [{ nextStepOn: '2026-11-27' }, 'none', 'Friday', ''],
  [{ nextStepOn: '2026-11-27', nextStepAt: '2026-11-27T14:05:00.000Z' }, 'none', 'Friday 14:05', ''],
  [{ nextStepOn: '2026-11-24' }, 'none', 'today', 'now'],
  [{}, 'none', 'none', 'soft'],
  [{}, 'loose', 'loose', 'now'],
])('a next step in a list: %j, or %s, is “%s”', (part, whenNone, words, look) => {
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      {
        provide: CurrentUser,
        useValue: { today: () => '2026-11-24', timeOf: (at: string) => at.slice(11, 16) },
      },
    ],
  });
  const fixture = TestBed.createComponent(StepDay);
  fixture.componentRef.setInput('facts', { ...none, ...part });
  fixture.componentRef.setInput('none', whenNone);
  fixture.detectChanges();
  const span = (fixture.nativeElement as HTMLElement).querySelector('span')!;
  expect([span.textContent, span.className]).toEqual([words, look]);
});
