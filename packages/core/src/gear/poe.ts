/** Kinds of power over the data cable. Kinds do not mix: passive supplies do not negotiate, standard ones will not feed a passive radio. */
export const poeKinds = ['passive24', 'passive48', '802.3af', '802.3at', '802.3bt'] as const;
export type PoeKind = (typeof poeKinds)[number];
