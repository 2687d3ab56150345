/** An image that is planned for an ESC, and whether it fits there with everything that plan and found know. */
import type {Craft} from '../craft/craft';
import {wantedFirmware} from '../craft/motor-firmware';
import {judgeFit, type Fit} from '../firmware/plan/fit';
import type {Identity} from '../firmware/identity';
import type {ImagePart} from '../firmware/plan/page-plan';
import type {Found, FoundEsc} from '../bench/found';
import type {PlannedImage} from '../firmware/plan/planned-image';

/** An ESC the order works on, with the images it should hold. */
export interface OrderEsc {
  readonly esc: FoundEsc;
  readonly base: PlannedImage | undefined;
  readonly module: PlannedImage | undefined;
  /** Identity of the planned base image. */
  readonly identity: Identity | undefined;
  readonly behind: boolean;
  readonly rewrite: boolean;
}

interface FitOfQuestion {
  readonly craft: Pick<Craft, 'plan' | 'helicopter'>;
  readonly found: Found;
  readonly esc: FoundEsc;
  readonly planned: PlannedImage;
  readonly part: ImagePart;
  /** Identity of the base that will lie below a module. */
  readonly identity?: Identity | undefined;
}

/** {@link judgeFit} with everything that plan and found know. The ESC's hardware must be known. */
export function fitOf({craft, found, esc, planned, part, identity}: FitOfQuestion): Fit {
  const {controller} = craft.plan;
  const {module, pwmKhz, variant, file, claim} = wantedFirmware(craft, esc.output);
  const runs = found.controller?.identity;
  return judgeFit({
    hardware: esc.hardware!,
    image: planned.image,
    part,
    wishes: {
      replies: controller.replies,
      protocol: controller.protocol,
      module: module !== undefined,
      ...{pwmKhz, variant},
    },
    standing: planned.standing,
    claim: esc.claim,
    ...(claim && planned.sha256 === file && {fileClaim: claim}),
    ...(planned.readFrom && {back: {from: planned.readFrom, to: esc.boot.serial}}),
    bootRevision: esc.boot.bootRevision,
    settings: esc.settings,
    current: part === 'base' ? esc.identity : esc.module,
    base: identity ?? esc.identity,
    ...(planned.needsController !== undefined && {
      controller: {needs: planned.needsController, found: runs && `${runs.firmware} ${runs.version}`},
    }),
  });
}
