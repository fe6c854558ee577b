/**
 * Asks again for stylesheets of the page that were lost on the way: a phone that changes its network while the page comes breaks what is under way, and without
 * them nothing can be hit with a thumb. It is done as this module is read, before any screen brings styles of its own: scripts of a page run after its stylesheets
 * have come or failed.
 */

/** How long after a lost stylesheet it is asked for again, ms. */
const againMs = 500;

for (const link of document.querySelectorAll<HTMLLinkElement>('link[rel=stylesheet]')) {
  if (isLost(link)) askAgain(link);
}

/** Of what did not come some browsers have no sheet, others one whose rules cannot be read. */
function isLost({ sheet }: HTMLLinkElement): boolean {
  try {
    return !sheet?.cssRules.length;
  } catch {
    return true;
  }
}

/** The lost one stays where it is: somebody may still wait for it. */
function askAgain(lost: HTMLLinkElement): void {
  const again = lost.cloneNode() as HTMLLinkElement;
  again.addEventListener('error', () => setTimeout(() => askAgain(again), againMs), { once: true });
  lost.after(again);
}
