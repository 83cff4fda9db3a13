/** Asks for a file of the page; given by the first part, so that it is not taken for a request of the page. */
export const network = { ask: (address: string, how: RequestInit): Promise<Response> => fetch(address, how) }
