import * as z from 'zod';
import type { Instant } from '@kettle/contract';

/** `2026-11-24T09:15:00.000Z` as a DATETIME(3) literal. */
export function sqlInstant(at: Instant): string;
export function sqlInstant(at: Instant | null): string | null;
export function sqlInstant(at: Instant | null): string | null {
  return at === null ? null : new Date(at).toISOString().slice(0, 23).replace('T', ' ');
}

/** A DATETIME(3) as the driver gives it (a string in UTC) as an instant. */
export function instantOf(text: string): Instant {
  return `${text.replace(' ', 'T')}Z`;
}

export function instantOrNull(text: string | null): Instant | null {
  return text === null ? null : instantOf(text);
}

/**
 * Sums and counts arrive as strings. One beyond what a number holds exactly is said as the largest there is: a page must not fail for it.
 * @throws Error when the value is not a whole number
 */
export function wholeNumber(value: string | number | null): number {
  const number = Number(value ?? 0);
  if (!Number.isInteger(number)) throw new Error(`not a whole number: ${String(value)}`);
  return Math.max(-Number.MAX_SAFE_INTEGER, Math.min(Number.MAX_SAFE_INTEGER, number));
}

/** The texts of a JSON column that holds a list of them. */
export const textsOf = (value: unknown): string[] => z.array(z.string()).parse(jsonOf(value));

/** JSON columns arrive as text from MariaDB; whoever reads one parses it with its schema. */
export function jsonOf(value: unknown): unknown {
  return typeof value === 'string' ? JSON.parse(value) : value;
}
