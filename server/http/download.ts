/** Bytes to be saved or shown, as a handler answers them instead of JSON. */
export class Download {
  constructor(
    readonly name: string,
    readonly type: string,
    readonly bytes: Buffer,
    /** Shown in the browser where its kind allows, instead of saved. */
    readonly inline = false,
  ) {}
}
