/** Reads large controller texts away from the screen's thread. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import {portableText} from '@core/controller/text/portable';
import {readText, type ControllerText} from '@core/controller/text/read-text';
import {success, type Result} from '@core/problem';

const textWorker = {
  read: (text: string): Result<ControllerText> => success(portableText(readText(text))),
};
export type TextWorker = typeof textWorker;

Comlink.expose(textWorker);
