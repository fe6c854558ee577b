/**
 * A connection is kept so long after an answer, ms. Longer than any pause of a page that asks again and again: a request on a connection that is just being closed would be
 * lost, and told as a server that is gone. Whoever wants to hold connections could do so before, by a request that never ends (60 s) or one every few seconds.
 */
export const keepAliveMs = 75_000;
