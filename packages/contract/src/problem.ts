/** An error as RFC 9457 has it: a problem document, with the fields at fault. */
export interface Problem {
  type: string;
  title: string;
  status: number;
  detail: string;
  errors?: FieldError[];
  /** where somebody else was faster: the entry as it is now */
  current?: Record<string, unknown>;
}

export interface FieldError {
  field: string;
  message: string;
}

export const problemMediaType = 'application/problem+json';
