let ahead = 0;

/** Notes what the server's clock shows: that of this machine may be wrong. */
export const syncClock = (now: string): void => {
  ahead = Date.parse(now) - Date.now();
};

/** Now, by the server's clock as it was last heard of: what is read, told and staged must mean the same there. */
export const clock = (): Date => new Date(Date.now() + ahead);

/** The same, as it is sent. */
export const now = (): string => clock().toISOString();
