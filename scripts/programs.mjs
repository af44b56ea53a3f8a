/** What the server starts in threads and processes of their own: `src/server/programs.ts` knows them by their names. */
export const PROGRAMS = ['src/server/db/databaseThread.ts', 'src/server/log/adifThread.ts', 'src/server/links/linkProcess.ts']
