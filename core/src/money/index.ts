import { numberFormat, readNumber, writeNumber } from '../locale';

/** Money for reading, without pence from 100 up. @example sayMoney(40900, 'GBP') is '£409'; sayMoney(950, 'GBP') is '£9.50' */
export function sayMoney(amountMinor: number, currency: string): string {
  const major = amountMinor / 100;
  const digits = Math.abs(major) >= 100 || amountMinor % 100 === 0 ? 0 : 2;
  return format(currency, digits).format(major);
}

/** Money to the penny, for what is read again. @example sayMoneyInFull(40999, 'GBP') is '£409.99' */
export const sayMoneyInFull = (amountMinor: number, currency: string): string =>
  format(currency, amountMinor % 100 === 0 ? 0 : 2).format(amountMinor / 100);

const format = (currency: string, digits: number) =>
  numberFormat({
    style: 'currency',
    currency,
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  });

/** An estimate for reading: whole units from ten up. @example sayRoughly(4469, 'GBP') is '£45' */
export function sayRoughly(amountMinor: number, currency: string): string {
  return sayMoney(
    Math.abs(amountMinor) >= 1000 ? Math.round(amountMinor / 100) * 100 : Math.round(amountMinor),
    currency,
  );
}

/** An amount for a field, as the reader would type it. @example writeMoney(440050) is '4400.50' */
export const writeMoney = (amountMinor: number): string =>
  writeNumber(amountMinor / 100, { least: 2, most: 2 });

/**
 * Reads an amount as a person types it into minor units, or null when it is none, or could be read in two ways.
 * @example readMoney('£4,400') is 440000; readMoney('12.5k') is 1250000; readMoney('1.234') is null, and 123400 in Germany
 */
export function readMoney(text: string): number | null {
  const found = /^([^\d.,]{0,6})([\d.,'’\s\u00a0\u202f]*\d)\s*(k)?\s*([^\d.,]{0,6})$/iu.exec(text.trim());
  const number = found && isSign(found[1]!) && isSign(found[4]!) ? readNumber(found[2]!) : null;
  if (number === null || number.places > 2) return null;
  return Math.round(number.value * (found![3] ? 1000 : 1) * 100);
}

/** Nothing, or what names a currency: its sign, its code, or both as in `US$`. */
const isSign = (text: string) => /^([A-Z]{0,3}\p{Sc}[A-Z]{0,3}|[A-Z]{3})?$/u.test(text.trim());
