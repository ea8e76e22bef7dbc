/** Without scripts: every link leaves the frame, so that nobody pays in a page that somebody else has laid around it. */
export const csr = false;
