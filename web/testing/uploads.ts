/** Uploads that arrive when the test lets them. */
export interface Upload {
  path: string;
  name: string;
  arrive: (status?: number, body?: object) => void;
  share: (of: number) => void;
  aborted: boolean;
}
/** @returns what is uploaded, in order */
export function fakeUploads(): Upload[] {
  const uploads: Upload[] = [];
  globalThis.XMLHttpRequest = class {
    upload: { onprogress?: (e: object) => void } = {};
    status = 0;
    responseText = '';
    response: unknown = null;
    onload?: () => void;
    onabort?: () => void;
    #path = '';
    open(_: string, path: string): void {
      this.#path = path;
    }
    setRequestHeader(): void {}
    getResponseHeader(): string | null {
      return this.#refused;
    }
    #refused: string | null = null;
    abort(): void {
      this.#own.aborted = true;
      this.onabort?.();
    }
    #own!: Upload;
    send(form: FormData): void {
      this.#own = {
        path: this.#path,
        name: String([...form.values()].map((v) => (v instanceof File ? v.name : v))),
        aborted: false,
        share: (of) => this.upload.onprogress?.({ lengthComputable: true, loaded: of * 100, total: 100 }),
        arrive: (status = 200, body = {}) => {
          this.status = 200;
          this.#refused = status < 300 ? null : String(status);
          this.responseText = JSON.stringify(body);
          this.response = body;
          this.onload?.();
        },
      };
      uploads.push(this.#own);
    }
  } as unknown as typeof XMLHttpRequest;
  return uploads;
}
