declare module 'cbor-x/index-no-eval' {
  export {Encoder, Decoder} from 'cbor-x';
}
