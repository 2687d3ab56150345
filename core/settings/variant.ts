/** What a firmware image is for. */
export const variants = ['multirotor', 'heli-main', 'heli-tail', 'reply-module'] as const;
export type Variant = (typeof variants)[number];

/** The variant that an image names; one that Bidex does not know reads its settings as that of a multirotor. */
export const variantNamed = (name: string | undefined): Variant => variants.find((v) => v === name) ?? 'multirotor';
