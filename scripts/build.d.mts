import type { BuildOptions } from 'esbuild';
export const nodeBundle: BuildOptions;
