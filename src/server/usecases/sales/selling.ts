import type { Using } from '../../app';
import type { Transacting } from '../../transact';

/** What orders, payments and agreements need. */
export type Selling = Transacting & Using<'processors' | 'site'>;
