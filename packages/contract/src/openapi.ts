/// <reference path="./classTransformerStorage.d.ts" />
import 'reflect-metadata';
import { defaultMetadataStorage } from 'class-transformer/cjs/storage.js';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import answers from './answers.schema.json' with { type: 'json' };
import { bodyOf } from './bodies';
import { JobDocument } from './jobDocument/document';
import { problemMediaType } from './problem';
import { routes } from './routes';
import { changeIdHeader, type Access, type Route } from './routes/route';

const accessWords: Record<Access, string> = {
  anyone: 'Nobody needs to be known.',
  signedIn: 'For whoever has signed in; at the computer itself for everybody.',
  worker: 'For who leads or works on any job; at the computer itself for everybody.',
  here: 'At the computer itself only.',
  reader: 'For everybody of the job; at the computer itself for everybody.',
  installer: 'For installers and leads of the job.',
  lead: 'For leads of the job.',
};

/** The API as an OpenAPI 3.1 document, made from the route table, the request classes and the types of the answers. */
export function openApiDocument(): Record<string, unknown> {
  const schemas = validationMetadatasToSchemas({
    classTransformerMetadataStorage: defaultMetadataStorage,
    refPointerPrefix: '#/components/schemas/',
  });
  const paths: Record<string, Record<string, unknown>> = {};
  for (const [name, route] of Object.entries(routes) as [keyof typeof routes, Route<unknown, unknown>][]) {
    const path = route.path.replace(/:(\w+)/g, '{$1}');
    (paths[path] ??= {})[route.method] = {
      operationId: name,
      summary: route.summary,
      description: accessWords[route.access],
      parameters: [...pathParameters(route), ...queryParameters(route), ...headerParameters(route)],
      ...requestBody(name, route),
      responses: {
        200: {
          description: 'done',
          content: { [route.gives ?? 'application/json']: { schema: answerOf(name, route) } },
        },
        ...(name === 'health' && {
          503: {
            description: 'it cannot work now',
            content: { 'application/json': { schema: answerOf(name, route) } },
          },
        }),
        default: {
          description: 'a problem document, RFC 9457',
          content: { [problemMediaType]: { schema: { $ref: '#/components/schemas/Problem' } } },
        },
      },
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Kivram',
      version: '1',
      description:
        'Planner and logbook of radio links. It answers to the computer that it runs on, and to the local network where that was opened.',
    },
    paths,
    components: { schemas: { ...schemas, ...answers.schemas, Problem: problemSchema } },
  };
}

function pathParameters({ path, words }: Route<unknown, unknown>) {
  return [...path.matchAll(/:(\w+)/g)].map(([, name = '']) => ({
    name,
    in: 'path',
    required: true,
    schema: schemaOf(words?.[name]),
  }));
}

function queryParameters({ query = {} }: Route<unknown, unknown>) {
  return Object.entries(query).map(([name, description]) => ({
    name,
    in: 'query',
    description,
    schema: { type: 'string' },
  }));
}

/** A change may carry an id; sent again under it, it is made once. */
function headerParameters({ method }: Route<unknown, unknown>) {
  if (method === 'get') return [];
  return [{ name: changeIdHeader, in: 'header', required: false, schema: { type: 'string', format: 'uuid' } }];
}

function requestBody(name: string, route: Route<unknown, unknown>) {
  const { takes } = route;
  const bodyName = name === 'importJob' ? JobDocument.name : bodyOf(route)?.name;
  const schema = bodyName ? { $ref: `#/components/schemas/${bodyName}` } : { type: 'string', format: 'binary' };
  if (!bodyName && !takes) return {};
  return { requestBody: { required: true, content: { [takes ?? 'application/json']: { schema } } } };
}

/** Of a stream, what each of its pieces is; of a file, nothing more than that it is one. */
function answerOf(name: keyof typeof routes, { gives }: Route<unknown, unknown>): unknown {
  const schema = (answers.answers as Record<string, unknown>)[name];
  return gives && name !== 'alignmentStream' ? { type: 'string', format: 'binary' } : schema;
}

const problemSchema = {
  type: 'object',
  required: ['type', 'title', 'status', 'detail'],
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    current: { type: 'object' },
    errors: {
      type: 'array',
      items: { type: 'object', properties: { field: { type: 'string' }, message: { type: 'string' } } },
    },
  },
};

function schemaOf(words: readonly string[] | 'any' | undefined): object {
  if (words === 'any') return { type: 'string', maxLength: 60 };
  return words ? { type: 'string', enum: words } : { type: 'string', format: 'uuid' };
}
