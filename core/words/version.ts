/** Version of Bidex, as CHANGELOG.md has it. */
export const version = '0.2.0';
