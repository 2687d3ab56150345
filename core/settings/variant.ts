/** What a firmware image is for. */
export type Variant = 'multirotor' | 'heli-main' | 'heli-tail' | 'reply-module';
