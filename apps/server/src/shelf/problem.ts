/** What went wrong, as it is answered: RFC 9457, "Problem Details for HTTP APIs". */
export class Problem extends Error {
  readonly status: number;
  readonly title: string;
  /** More members of the answer. */
  readonly more: Readonly<Record<string, unknown>>;

  constructor(status: number, title: string, detail: string, more: Readonly<Record<string, unknown>> = {}) {
    super(detail);
    this.status = status;
    this.title = title;
    this.more = more;
  }

  body(): Record<string, unknown> {
    return { type: "about:blank", title: this.title, status: this.status, detail: this.message, ...this.more };
  }
}

export const PROBLEM = "application/problem+json";
