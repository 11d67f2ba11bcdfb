/** The line to the server: whoever plays the server answers here. */
export const line = {
  ask: (() => Promise.reject(new TypeError('no line'))) as (request: Request) => Promise<Response>,
}
