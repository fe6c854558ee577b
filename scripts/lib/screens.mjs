import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { projectRoot } from './packages.mjs';

/** @typedef {{ tag: string, module: string, path: string }} Screen A screen: how tests call it (`@radio`), the file it begins in, and its address, with `:id` for any id. */

const router = 'packages/web/src/router.tsx';
/** What stands around the screens of a link. */
const linkLayout = 'packages/web/src/link/LinkLayout.tsx';

/**
 * Every screen, as the interface's own table has it. The address `/` is left out: it shows the only job, and most tests come in through it, which is no visit.
 * @returns {Screen[]}
 */
export function screensOf() {
  const text = readFileSync(join(projectRoot, router), 'utf8');
  const rows = [
    ...text.matchAll(/path: '([^'*]+)',\s*lazy: screen\(async \(\) => \(await import\('\.\/([\w/]+)'\)\)\.(\w+)\)/g),
  ];
  return rows.flatMap(([, path = '', file = '', name = '']) => {
    const module = `packages/web/src/${file}.tsx`;
    if (module === linkLayout) return [];
    const ofLink = text.indexOf(`import('./${file}')`) > text.indexOf('LinkLayout');
    const whole = `/${ofLink ? 'links/:linkId/' : ''}${path}`;
    return [{ tag: tagOf(name), module, path: whole }];
  });
}

/** Where a change reaches a screen: the screen itself, and what is loaded around it. @param {Screen} screen */
export const modulesOf = ({ module, path }) => (path.startsWith('/links/') ? [linkLayout, module] : [module]);

/** The tag of the screen at an address; none where there is none. @param {Screen[]} screens @param {string} pathname */
export function tagAt(screens, pathname) {
  const parts = pathname.split('/').filter(Boolean);
  const fits = (/** @type {Screen} */ { path }) => {
    const own = path.split('/').filter(Boolean);
    return own.length === parts.length && own.every((part, i) => part.startsWith(':') || part === parts[i]);
  };
  // `jobs/new` is no job called "new".
  const found = screens.filter(fits).sort((a, b) => a.path.split(':').length - b.path.split(':').length);
  return found[0]?.tag;
}

/** @param {string} component such as NewLinkScreen */
function tagOf(component) {
  const words = component.replace(/Screen$/, '').replace(/\B[A-Z]/g, (letter) => `-${letter}`);
  return `@${words.toLowerCase()}`;
}
