import { numberFormat, readNumber, writeNumber } from '../locale';

/** Currencies of ISO 4217 whose minor unit is not the hundredth: what is kept depends on it, so it is not the runtime's, which differ. */
const unusualPlaces: ReadonlyMap<string, number> = new Map(
  Object.entries({
    0: 'BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF',
    3: 'BHD IQD JOD KWD LYD OMR TND',
    4: 'CLF UYW',
  }).flatMap(([places, codes]) => codes.split(' ').map((code) => [code, Number(places)] as const)),
);

/** How many places a currency's minor unit has after the whole one, by ISO 4217. @example [placesOf('GBP'), placesOf('JPY'), placesOf('KWD')] is [2, 0, 3] */
export const placesOf = (currency: string): number => unusualPlaces.get(currency) ?? 2;

/** Whole units as the minor units that are kept. @example minorOf(4400.5, 'GBP') is 440050; minorOf(4400, 'JPY') is 4400 */
export const minorOf = (major: number, currency: string): number => {
  // Shifted in decimal: 1.005 x 1000 is 1004.9999999999999 in binary.
  const [figures = '', exponent = '0'] = String(major).split('e');
  return Math.round(Number(`${figures}e${Number(exponent) + placesOf(currency)}`));
};

/** What is kept, in whole units. @example majorOf(440050, 'GBP') is 4400.5; majorOf(1234, 'KWD') is 1.234 */
export const majorOf = (amountMinor: number, currency: string): number =>
  amountMinor / 10 ** placesOf(currency);

const isWhole = (amountMinor: number, currency: string) => amountMinor % 10 ** placesOf(currency) === 0;

/** Money for reading, without pence from 100 up. @example sayMoney(40900, 'GBP') is '£409'; sayMoney(950, 'GBP') is '£9.50'; sayMoney(950, 'JPY') is 'JP¥950' */
export function sayMoney(amountMinor: number, currency: string): string {
  const major = majorOf(amountMinor, currency);
  const isShort = Math.abs(major) >= 100 || isWhole(amountMinor, currency);
  return format(currency, isShort ? 0 : placesOf(currency)).format(major);
}

/** Money to the penny, for what is read again. @example sayMoneyInFull(40999, 'GBP') is '£409.99' */
export const sayMoneyInFull = (amountMinor: number, currency: string): string =>
  format(currency, isWhole(amountMinor, currency) ? 0 : placesOf(currency)).format(
    majorOf(amountMinor, currency),
  );

const format = (currency: string, digits: number) =>
  numberFormat({
    style: 'currency',
    currency,
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  });

/** An amount for a field, as the reader would type it. @example writeMoney(440050, 'GBP') is '4400.50' */
export const writeMoney = (amountMinor: number, currency: string): string =>
  writeNumber(majorOf(amountMinor, currency), { least: placesOf(currency), most: placesOf(currency) });

/**
 * Reads an amount as a person types it into minor units of its currency, or null when it is none, names another currency, has more
 * places than the currency, or could be read in two ways.
 * @example readMoney('£4,400', 'GBP') is 440000; readMoney('12.5k', 'GBP') is 1250000; readMoney('1.234', 'GBP') is null, and 123400 in Germany
 */
export function readMoney(text: string, currency: string): number | null {
  const found =
    /^(\D{0,6}?)(\d(?:[\d.,'’\s]*\d)?)(?:[.,]\s?[-–—]{1,2})?\s*(k(?![a-zč]))?\s*(\D{0,6})$/iu.exec(
      text.replace(/[\u061c\u200e\u200f]/g, '').trim(),
    );
  if (!found || ![found[1]!, found[4]!].every((sign) => isSignOf(sign, currency))) return null;
  const number = readNumber(found[2]!);
  // Thousands may have three places more than the currency.
  const isThousands = found[3] !== undefined;
  if (number === null || number.places > placesOf(currency) + (isThousands ? 3 : 0)) return null;
  return minorOf(isThousands ? Number(`${number.value}e3`) : number.value, currency);
}

/** Countries between them write a currency's signs in all the usual ways: `kr`, `kr.`, `Dkr`, `US$`, `$US`, `￥`. */
const writing = ['en', 'de', 'sv', 'da', 'pl', 'pt-BR', 'fr-CA', 'ja', 'ar-KW'];

/** What people write and CLDR does not have: common practice, no source. */
const alsoWritten: Readonly<Record<string, readonly string[]>> = {
  CHF: ['Fr', 'SFr'],
  SEK: ['SKr'],
  NOK: ['NKr'],
};

const signs = new Map<string, ReadonlySet<string>>();

const plainSign = (sign: string) => sign.normalize('NFKC').replace(/[\s.]/g, '').toLowerCase();

const displays = ['symbol', 'narrowSymbol', 'code'] as const;

const signOf = (format: Intl.NumberFormat) =>
  plainSign(format.formatToParts(0).find(({ type }) => type === 'currency')!.value);

function signsOf(currency: string): ReadonlySet<string> {
  const style = 'currency';
  const found =
    signs.get(currency) ??
    new Set([
      ...writing.flatMap((tag) =>
        displays.map((currencyDisplay) =>
          signOf(new Intl.NumberFormat(tag, { style, currency, currencyDisplay })),
        ),
      ),
      ...(alsoWritten[currency] ?? []).map(plainSign),
    ]);
  signs.set(currency, found);
  return found;
}

/** Nothing, or what names the currency: its sign, its code, or both as in `US$`. A sign of another currency makes it another amount. */
function isSignOf(text: string, currency: string): boolean {
  const sign = plainSign(text);
  return (
    sign === '' ||
    signsOf(currency).has(sign) ||
    displays.some(
      (currencyDisplay) => signOf(numberFormat({ style: 'currency', currency, currencyDisplay })) === sign,
    )
  );
}

/** An amount as documents say it: always with all places of its currency. @example sayToThePenny(346500, 'GBP') is '£3,465.00' */
export const sayToThePenny = (amountMinor: number, currency: string): string =>
  format(currency, placesOf(currency)).format(majorOf(amountMinor, currency));
