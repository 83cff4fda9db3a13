/**
 * Whether an answer's status says that the page which was asked for could not be shown: it is not there, or the server
 * failed. 401 and 403 ask who it is, which the page that is shown then may do.
 *
 * @param status  of HTTP (RFC 9110, section 15); NaN or undefined where it is not known: false
 */
export function couldNotBeShown(status: number | undefined): boolean {
  return status !== undefined && status >= 400 && status !== 401 && status !== 403
}
