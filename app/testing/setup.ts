/** What jsdom lacks and the application needs: a store, and sizes. */
import 'fake-indexeddb/auto';
import '../zod-without-eval';
