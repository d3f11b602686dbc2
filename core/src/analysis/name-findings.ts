/** Findings about names that say two things. */
import { freeListName, listsNamedTwice } from '../compile/list-names.ts';
import { fieldPart, type FindingKind } from './finding.ts';

export const listNameTwice: FindingKind = {
  key: 'list-name-twice',
  name: 'Two lists that formulas cannot tell apart',
  severity: 'error',
  *find({ rulebook }) {
    for (const { parent, list, child, field } of listsNamedTwice(rulebook)) {
      const part = fieldPart(child, field.key);
      const free = freeListName(field, child, rulebook) ?? child.plural;
      yield {
        part,
        path: '/children',
        sentence: `${list} says two things of ${parent.name}: the list at the other end of ${field.name} of ${child.name} needs a name of its own.`,
        repair: {
          text: `call it ${free}`,
          edits: [{ part, operations: [{ op: 'add', path: '/children', value: free }] }],
        },
      };
    }
  },
};
