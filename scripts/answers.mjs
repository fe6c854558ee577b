// Writes the schemas of the API's answers, which the OpenAPI document holds, from their types. Run it when an answer changes; a test says when it must be run.
//   npm run answers
import { writeFileSync } from 'node:fs';
import { answersFile, schemasOfAnswers } from './lib/answers.mjs';

writeFileSync(answersFile, schemasOfAnswers());
