import { tryPairs } from '../test/pairs';

// Lets as many random pairs of radios try as asked for, and says in one line of JSON what came of it.
//   pairs.js <pairs> <seed>

const [count = 0, seed = 1] = process.argv.slice(2).map(Number);
const faults: string[] = [];
let seen = { pairs: 0, fails: 0, causes: new Set<string>() };
try {
  seen = tryPairs(count, seed);
} catch (error) {
  faults.push(error instanceof Error ? error.message : String(error));
}
process.stdout.write(`${JSON.stringify({ ...seen, causes: seen.causes.size, faults })}\n`);
