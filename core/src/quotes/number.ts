/** A number as people read it. @example sayNumber('Q', 7) is 'Q-0007' */
export const sayNumber = (series: string, number: number): string =>
  `${series}-${String(number).padStart(4, '0')}`;
