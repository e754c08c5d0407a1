package tiles

// Place<tile/quarter turns, f for face down.
const (
	seed3x3       = "A1<C2/0f B1<A2/0f C1<B1/1 A2<A1/0f B2<C3/2 C2<A3/3 A3<B3/3 B3<C1/2 C3<B2/2"
	seed5x4       = "A1<D3/0 B1<B4/0 C1<C3/2f D1<A3/0f E1<C2/0 A2<D1/0f B2<E4/0 C2<A2/2f D2<B1/0 E2<C4/2 A3<E3/2 B3<D2/2f C3<C1/0 D3<E2/2 E3<A1/0 A4<B3/2 B4<D4/0f C4<A4/0f D4<B2/0f E4<E1/2"
	seedRemainder = "A1<E6/2f B1<D3/3 C1<E1/1f D1<C6/0 E1<D2/2 F1<F2/0f A2<A6/3f B2<C2/1f C2<A1/2f D2<C4/3 E2<B2/2 F2<B7/1f A3<C5/1f B3<A3/2 C3<D4/3f D3<D1/1f E3<E5/0f F3<F4/2 A4<B4/2f B4<E2/0 C4<B1/3 D4<A5/1 E4<B3/3f F4<E7/1 A5<C3/1 B5<E4/3 C5<B5/3 D5<C1/1f E5<B6/1 F5<F6/2 A6<E3/0 B6<D6/0 C6<A4/1 D6<A2/0 E6<D5/3f F6<F3/0 A7<F1/1f B7<C7/0 C7<F5/3 D7<A7/0f E7<D7/2f F7<F7/3f"
)
