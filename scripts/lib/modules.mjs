import { existsSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import ts from 'typescript';
import { projectRoot } from './packages.mjs';

/** @typedef {Map<string, string[]>} Modules Each module of the project with those that it runs: files from the root of the project. */

/**
 * Reads which module runs which. What is imported as a type is left out: it is gone when the code runs, and the check of types looks at everything anyway.
 * @param {string[]} files from the root of the project
 * @returns {Modules}
 */
export function readModules(files) {
  const ways = packageWays();
  return new Map(files.filter((file) => /\.(m?tsx?|mjs)$/.test(file)).map((file) => [file, modulesRunBy(file, ways)]));
}

/**
 * All that a module runs, itself included.
 * @param {Modules} modules @param {string} start @param {(file: string) => boolean} [stopAt] what is reached but not gone on from
 */
export function reachedFrom(modules, start, stopAt = () => false) {
  const reached = new Set([start]);
  // A set that grows while it is gone through is gone through to its end.
  for (const file of reached) if (!stopAt(file)) for (const next of modules.get(file) ?? []) reached.add(next);
  return reached;
}

/** @param {string} file @param {Record<string, [string, string][]>} ways */
function modulesRunBy(file, ways) {
  const text = readFileSync(join(projectRoot, file), 'utf8');
  const source = ts.createSourceFile(
    file,
    text,
    ts.ScriptTarget.Latest,
    false,
    file.endsWith('x') ? ts.ScriptKind.TSX : undefined,
  );
  const named = source.statements.flatMap((statement) => {
    if (!ts.isImportDeclaration(statement) && !ts.isExportDeclaration(statement)) return [];
    const { moduleSpecifier } = statement;
    return moduleSpecifier && ts.isStringLiteral(moduleSpecifier) && !isTypeOnly(statement)
      ? [moduleSpecifier.text]
      : [];
  });
  // Screens, heavy parts and workers come when they are wanted.
  const wanted = [...text.matchAll(/(?:import\(|new URL\()\s*'([^']+)'/g)].map(([, name = '']) => name);
  return [...named, ...wanted].flatMap((name) => fileOf(name, file, ways) ?? []);
}

/** @param {ts.ImportDeclaration | ts.ExportDeclaration} statement */
function isTypeOnly(statement) {
  if (ts.isExportDeclaration(statement)) return statement.isTypeOnly;
  const clause = statement.importClause;
  if (!clause) return false;
  if (clause.isTypeOnly) return true;
  const { namedBindings } = clause;
  const names = namedBindings && ts.isNamedImports(namedBindings) ? namedBindings.elements : undefined;
  return !clause.name && names !== undefined && names.length > 0 && names.every((name) => name.isTypeOnly);
}

/** The file of the project that a module names; none where it comes from elsewhere. @param {string} name @param {string} from @param {Record<string, [string, string][]>} ways */
function fileOf(name, from, ways) {
  const [, room = '', rest = ''] = /^@kivram\/(\w+)(?:\/(.*))?$/.exec(name) ?? [];
  const path = room ? inPackage(room, rest, ways[room] ?? []) : name.startsWith('.') && join(dirname(from), name);
  if (!path) return undefined;
  const found = [path, ...['.ts', '.tsx', '/index.ts'].map((ending) => path + ending)].find((file) => {
    const whole = join(projectRoot, file);
    return existsSync(whole) && statSync(whole).isFile();
  });
  return found && relative(projectRoot, join(projectRoot, found));
}

/** @param {string} room @param {string} rest @param {[string, string][]} ways */
function inPackage(room, rest, ways) {
  const own = rest ? `./${rest}` : '.';
  const [, to] = ways.find(([name]) => name === own) ?? ways.find(([name]) => name === './*') ?? [];
  return to && join('packages', room, to.replace('*', rest));
}

/** What each package lets others import, as its package.json says. @returns {Record<string, [string, string][]>} */
function packageWays() {
  const rooms = ['core', 'contract', 'standin', 'server', 'web'];
  return Object.fromEntries(
    rooms.map((room) => {
      const { exports } = JSON.parse(readFileSync(join(projectRoot, 'packages', room, 'package.json'), 'utf8'));
      return [room, Object.entries(exports ?? {})];
    }),
  );
}
