import { calendarPassword } from './calendar-server';
import type { Event } from './happened';

const entities: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const escape = (text: string) => text.replace(/[&<>"]/g, (letter) => entities[letter]!);

const speeds: readonly (readonly [string, number])[] = [
  ['as in life', 1 / 60],
  ['a minute a second', 1],
  ['an hour a second', 60],
  ['a day a second', 1440],
];

export interface Shown {
  readonly speed: number;
  readonly waiting: number;
  /** Whether the reader of web hooks knows by which secret they are signed. */
  readonly hasSecret: boolean;
  readonly diaries: readonly {
    readonly login: string;
    readonly name: string;
    readonly title: string;
    readonly start: string;
  }[];
}

/** One page: what reached the people outside, what they did, what lies in their calendars, and how fast their time goes. */
export function pageOf(events: readonly Event[], { speed, waiting, diaries, hasSecret }: Shown): string {
  const kept = diaries
    .map(
      ({ login, name, title, start }) =>
        `<tr><td>${escape(login)}<td>${escape(title)}<td>${escape(start)}<td><form method="post" action="/diaries">
<input type="hidden" name="login" value="${escape(login)}"><input type="hidden" name="name" value="${escape(name)}"><input type="hidden" name="hours" value="1">
<button>an hour later</button> <button name="act" value="delete">delete</button></form>`,
    )
    .join('\n');
  const rows = events
    .slice(0, 300)
    .map(
      ({ at, kind, who, words }) =>
        `<tr><td>${escape(at.slice(11, 19))}<td>${escape(kind)}<td>${escape(who)}<td>${escape(words)}`,
    )
    .join('\n');
  const buttons = speeds
    .map(
      ([words, value]) =>
        `<button name="minutesPerSecond" value="${value}"${value === speed ? ' disabled' : ''}>${words}</button>`,
    )
    .join(' ');
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>The people outside</title>
<style>body{font:15px/1.5 system-ui;margin:2rem;color:#24211d;background:#f7f5f1}td{padding:2px 14px 2px 0;vertical-align:top}
th{text-align:left}button{font:inherit;padding:4px 10px}</style>
<h1>The people outside</h1>
<p>Stand-ins for mail, telephone, texts, calendars and a program that reads web hooks. ${waiting} things are still to happen.</p>
<form method="post" action="/speed">Their time: ${buttons}</form>
<h2>Their calendars</h2>
<p>One to look at is at <code>/calendars/any-name.ics</code>. One to keep in step is at <code>/dav/</code>, under any name, with the password
<code>${escape(calendarPassword)}</code>.</p>
<table><tbody>${kept}</tbody></table>
<h2>Web hooks</h2>
<p>They are read at <code>/told</code>. ${hasSecret ? 'A secret is known: what is signed otherwise is refused.' : 'No secret is known yet: everything is refused.'}</p>
<form method="post" action="/told/secret"><label>Their secret <input name="secret" size="50" autocomplete="off"></label> <button>trust it</button></form>
<h2>What happened</h2>
<table><thead><tr><th>at<th>what<th>who<th>words</thead><tbody>${rows}</tbody></table></html>`;
}
