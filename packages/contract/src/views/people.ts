import type { CrewMember, JobRole } from '../entities/crewMember';

/** A browser that somebody has signed in from. */
export interface SessionLine {
  id: string;
  /** browser and system, as far as it says */
  device: string;
  startedAt: string;
  usedAt: string;
  /** the one that asks */
  isThis: boolean;
}

/** Somebody of a job's crew with how they sign in over the network. */
export interface PersonView extends CrewMember {
  /** the name that they sign in by; null while nobody does */
  signsInAs: string | null;
  hasPassword: boolean;
  sessions: SessionLine[];
}

/** Somebody of another job, whom whoever asks may say to be somebody of this one. */
export interface KnownPerson {
  memberId: string;
  name: string;
  jobName: string;
}

export interface PeopleView {
  people: PersonView[];
  /** for those who lead the job only */
  known: KnownPerson[];
}

/** A code that lets one phone in, once. It is shown now and never again. */
export interface InvitationView {
  code: string;
  name: string;
  role: JobRole;
  /** the name by which whoever takes it must have signed in before; null for somebody new, and for another phone of theirs */
  joinsAs: string | null;
  expiresAt: string;
}

/** Somebody's place in a job. */
export interface Membership {
  id: string;
  role: JobRole;
}

/** Who works in this browser. */
export interface SessionView {
  /** at the computer that Kivram runs on, where nobody needs to sign in */
  isHere: boolean;
  /** who has signed in over the network */
  person: { name: string; hasPassword: boolean; mayReset: boolean } | null;
  /** must come with every change that is sent over the network; null at the computer itself */
  token: string | null;
  /** by job: who works there in this browser */
  members: Record<string, Membership>;
}

/** Where phones reach this computer, and by what they know that it is the one. */
export interface NetworkOpening {
  /** like https://192.168.7.20:4181 */
  addresses: string[];
  /** SHA-256 of the certificate, as browsers show it */
  fingerprint: string;
  /** SHA-256 of the certificate that signed it, which a phone can be told to trust */
  authorityFingerprint: string;
}
