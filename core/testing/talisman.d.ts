declare module 'talisman/metrics/jaro-winkler' {
  export default function jaroWinkler(one: string, other: string): number;
}
