import type { ServerResponse } from 'node:http';

export function hearDrainedOnce(res: ServerResponse): void;
