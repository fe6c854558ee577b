import { describe, expect, it } from 'vitest';
import { bodyOf } from './bodies';
import { routes } from './routes';
import { fillPath, type Route } from './routes/route';
import { openApiDocument } from './openapi';

const table = Object.entries(routes) as [string, Route<unknown, unknown>][];

describe('the route table', () => {
  it('has no two routes at one place', () => {
    const places = table.map(([, r]) => `${r.method} ${r.path}`);
    expect(new Set(places).size).toBe(places.length);
  });

  it('takes a body only where something changes, and says what each route does', () => {
    for (const [name, route] of table) {
      if (route.method === 'get') expect(bodyOf(route), name).toBeUndefined();
      expect(route.summary.length, name).toBeGreaterThanOrEqual(8);
      expect(route.path, name).toMatch(/^\/api\//);
    }
  });

  it('leads each address to one route, so that nobody is let in by the access of another', () => {
    for (const [name, a] of table) {
      const address = a.path.replace(/:\w+/g, 'x');
      const led = table.filter(
        ([, b]) => b.method === a.method && new RegExp(`^${b.path.replace(/:\w+/g, '[^/]+')}$`).test(address),
      );
      expect(led.map(([other]) => other)).toEqual([name]);
    }
  });

  it('fills paths in, safely', () => {
    expect(fillPath(routes.alignmentStream.path, { alignmentId: 'a/b c' })).toBe('/api/alignments/a%2Fb%20c/stream');
    expect(fillPath('/api/:x/:y', { x: '1', y: '2' })).toBe('/api/1/2');
  });
});

interface Operation {
  parameters: { name: string; in: string }[];
  requestBody?: unknown;
  responses: Record<string, { content: Record<string, { schema?: unknown }> }>;
}

describe('the OpenAPI document', () => {
  const document = openApiDocument() as {
    openapi: string;
    paths: Record<string, Record<string, Operation>>;
    components: {
      schemas: Record<string, { required?: string[]; properties: Record<string, Record<string, unknown>> }>;
    };
  };

  it('is made from the same classes that check', () => {
    expect(document.openapi).toBe('3.1.0');
    const { NewPlace, SheetBody, NewLinkBody, MarkBody } = document.components.schemas;
    expect(NewPlace?.properties.latitudeDeg).toMatchObject({ type: 'number', minimum: -90, maximum: 90 });
    expect(NewPlace?.required).toContain('latitudeDeg');
    expect(NewPlace?.required).not.toContain('groundHeightM'); // the terrain knows it
    expect(SheetBody?.properties.role).toMatchObject({ enum: ['ap', 'station', 'relay'] });
    expect(NewLinkBody?.properties.near).toMatchObject({ $ref: '#/components/schemas/NewEnd' });
    expect(MarkBody?.properties.kind).toBeDefined();
  });

  it('refers to nothing it does not hold', () => {
    const text = JSON.stringify(document);
    for (const [, name] of text.matchAll(/#\/components\/schemas\/([\w.]+)/g))
      expect(document.components.schemas[name ?? ''], name).toBeDefined();
  });

  it('gives each route its path parameters, its body, its answer and the problem document', () => {
    for (const [name, route] of table) {
      const operation = document.paths[route.path.replace(/:(\w+)/g, '{$1}')]?.[route.method];
      const inPath = operation?.parameters.filter((p) => p.in === 'path').map((p) => p.name);
      expect(inPath, name).toEqual([...route.path.matchAll(/:(\w+)/g)].map((m) => m[1]));
      expect(!!operation?.requestBody, name).toBe(!!bodyOf(route) || !!route.takes);
      expect(Object.keys(operation?.responses ?? {}), name).toEqual(expect.arrayContaining(['200', 'default']));
      const content = operation?.responses['200']?.content[route.gives ?? 'application/json'];
      expect(content?.schema, name).toBeTypeOf('object');
    }
  });

  it('holds streams, files and schemas of answers', () => {
    const text = JSON.stringify(document.paths);
    for (const media of ['text/event-stream', 'application/pdf', 'text/csv', 'application/octet-stream'])
      expect(text).toContain(media);
    expect(document.components.schemas['answer.LinkView']?.properties.state).toBeDefined();
    expect(document.paths['/api/links/{linkId}']?.get?.responses['200']?.content['application/json']?.schema).toEqual({
      $ref: '#/components/schemas/answer.LinkView',
    });
  });
});
