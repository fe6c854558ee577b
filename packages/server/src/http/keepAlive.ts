/**
 * A connection is kept so long after an answer, ms. Longer than any pause of a page that asks again and again: a request on a connection that is just being closed would be
 * lost, and told as a server that is gone.
 */
export const keepAliveMs = 75_000;
