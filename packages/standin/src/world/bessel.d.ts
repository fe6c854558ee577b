declare module 'bessel' {
  const bessel: {
    /** Bessel function of the first kind and integer order n. */
    besselj(x: number, n: number): number;
  };
  export default bessel;
}
