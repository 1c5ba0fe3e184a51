let ahead = 0;

/** Notes what the server's clock shows: that of this machine may be wrong. */
export const heard = (now: string): void => {
  ahead = Date.parse(now) - Date.now();
};

/** Now, by the server's clock as it was last heard of; what an edit begins with must not lie in the server's future. */
export const now = (): string => new Date(Date.now() + ahead).toISOString();
