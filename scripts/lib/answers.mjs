import { join } from 'node:path';
import * as tjs from 'typescript-json-schema';
import { projectRoot } from './packages.mjs';

const folder = join(projectRoot, 'packages/contract/src');
export const answersFile = join(folder, 'answers.schema.json');

/** The schemas of all answers as JSON, read off the interface `Answers` by TypeScript itself. */
export function schemasOfAnswers() {
  const program = tjs.getProgramFromFiles(
    [join(folder, 'answers.ts')],
    {
      strict: true,
      skipLibCheck: true,
      experimentalDecorators: true,
      moduleResolution: 'bundler',
      module: 'esnext',
      target: 'es2022',
      // Nothing of a browser or of Node stands in an answer: to read what they declare takes longer than all else.
      lib: ['es2022'],
      types: [],
    },
    projectRoot,
  );
  const schema = tjs.generateSchema(program, 'Answers', { required: true, ignoreErrors: true, noExtraProps: true });
  if (!schema) throw new Error('the schemas of the answers could not be read off their types');
  // A name in a document of OpenAPI is a plain word.
  const text = JSON.stringify(schema).replace(/"#\/definitions\/((?:[^"\\]|\\.)*)"/g, (_, /** @type {string} */ name) =>
    JSON.stringify(`#/components/schemas/${plain(JSON.parse(`"${name}"`))}`),
  );
  const { properties, definitions } = JSON.parse(text);
  const named = Object.entries(definitions ?? {}).map(([name, value]) => [plain(name), value]);
  return `${JSON.stringify({ answers: properties, schemas: Object.fromEntries(named) })}\n`;
}

/** @param {string} name */
function plain(name) {
  return `answer.${decodeURIComponent(name).replace(/[^\w]+/g, '_')}`;
}
