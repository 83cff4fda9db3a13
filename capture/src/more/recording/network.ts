export const network = {
  /** Asks for a file of the page; given by the first part, so that it is not taken for a request of the page. */
  ask: (address: string, how: RequestInit): Promise<Response> => fetch(address, how),
  /** Where the page's own policy lets no script ask, it is not tried again: the site would hear of each try. */
  isBarred: (_address: string): boolean => false,
}
