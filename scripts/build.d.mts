import type { BuildOptions } from 'esbuild';
export const nodeBundle: BuildOptions;
export function precompress(folder: string): void;
