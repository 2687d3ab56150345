/** Parts of a craft as its starting plan names them: each is a guess until a person changes or confirms it. */
import {sameJson} from '../canonical-json';
import type {Craft, GuessedPart} from './craft';

/** What each part is made of. */
const contents: Readonly<Record<GuessedPart, (craft: Craft) => unknown>> = {
  airframe: ({arms, props, weightG}) => [arms, props, weightG],
  motors: ({motor}) => motor,
  battery: ({battery}) => battery,
  electronics: ({escBoard, controllerBoard}) => [escBoard, controllerBoard],
  propellers: ({propeller}) => propeller,
};

export const guessedParts = Object.keys(contents) as readonly GuessedPart[];

const without = (craft: Craft, isKnown: (part: GuessedPart) => boolean): Craft => {
  const {guessed, ...known} = craft;
  const left = guessed?.filter((part) => !isKnown(part)) ?? [];
  return left.length ? {...craft, guessed: left} : known;
};

/** A person says that a part is as the starting plan guessed it. */
export const withConfirmed =
  (part: GuessedPart) =>
  (craft: Craft): Craft =>
    without(craft, (other) => other === part);

/** Whoever changes a part knows it. */
export const withChangedKnown = (before: Craft, after: Craft): Craft =>
  without(after, (part) => !sameJson(contents[part](before), contents[part](after)));
