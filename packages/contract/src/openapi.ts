/// <reference path="./classTransformerStorage.d.ts" />
import 'reflect-metadata';
import { defaultMetadataStorage } from 'class-transformer/cjs/storage.js';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { JobDocument } from './jobDocument';
import { problemMediaType } from './problem';
import { routes, type Route } from './routes';

/** The API as an OpenAPI 3.1 document, made from the route table and the request classes. */
export function openApiDocument(): Record<string, unknown> {
  const schemas = validationMetadatasToSchemas({
    classTransformerMetadataStorage: defaultMetadataStorage,
    refPointerPrefix: '#/components/schemas/',
  });
  const paths: Record<string, Record<string, unknown>> = {};
  for (const [name, route] of Object.entries(routes) as [string, Route<unknown, unknown>][]) {
    const path = route.path.replace(/:(\w+)/g, '{$1}');
    const bodyName = name === 'importJob' ? JobDocument.name : route.body?.name;
    (paths[path] ??= {})[route.method] = {
      operationId: name,
      summary: route.summary,
      parameters: [...route.path.matchAll(/:(\w+)/g)].map(([, param]) => ({
        name: param,
        in: 'path',
        required: true,
        schema: { type: 'string', format: 'uuid' },
      })),
      ...(bodyName && {
        requestBody: {
          required: true,
          content: { 'application/json': { schema: { $ref: `#/components/schemas/${bodyName}` } } },
        },
      }),
      responses: {
        200: { description: 'done', content: { 'application/json': {} } },
        default: {
          description: 'a problem document, RFC 9457',
          content: { [problemMediaType]: { schema: { $ref: '#/components/schemas/Problem' } } },
        },
      },
    };
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Kivram', version: '1', description: 'Planner and logbook of radio links. Loopback only.' },
    paths,
    components: {
      schemas: {
        ...schemas,
        Problem: {
          type: 'object',
          required: ['type', 'title', 'status', 'detail'],
          properties: {
            type: { type: 'string' },
            title: { type: 'string' },
            status: { type: 'integer' },
            detail: { type: 'string' },
            errors: {
              type: 'array',
              items: { type: 'object', properties: { field: { type: 'string' }, message: { type: 'string' } } },
            },
          },
        },
      },
    },
  };
}
