/** Whatever the network does with a save: it is done once, nothing typed is lost, and nobody meets themselves. */
import fc from 'fast-check';
import { runsOf } from '../../../../../core/src/testing/runs.ts';
import { expect, it } from 'vitest';
import { book } from '../../../../../core/src/testing/books.ts';
import { formInMemory } from './memory-server.ts';
