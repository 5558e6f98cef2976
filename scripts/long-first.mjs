// Jest begins with the files that take longest, also on a machine that has never run them: one that comes last keeps a core idle.
import Sequencer from '@jest/test-sequencer';

const longest = ['upgrade.test', 'migrate.test', 'undo.test', 'mail.test', 'worker.test', 'merge.test'];
const rank = ({ path }) => {
  const at = longest.findIndex((name) => path.includes(`/${name}`));
  return at < 0 ? longest.length : at;
};

export default class LongFirst extends Sequencer {
  sort(tests) {
    return [...super.sort(tests)].sort((one, other) => rank(one) - rank(other));
  }
}
