/** One to five stars. The same again takes them away. */
export function Stars({
  value,
  onRate,
  large = false,
}: {
  value: number;
  onRate: (stars: number | null) => void;
  large?: boolean;
}) {
  return (
    <span role="radiogroup" aria-label="Stars" className={`flex ${large ? '' : 'px-1'}`}>
      {[1, 2, 3, 4, 5].map((n) => (
        <button
          key={n}
          type="button"
          role="radio"
          aria-checked={value === n}
          aria-label={`${n} ${n === 1 ? 'star' : 'stars'}`}
          onClick={() => onRate(value === n ? null : n)}
          className={`${large ? 'px-1 text-[22px] leading-7' : 'px-px text-[15px] leading-6'} ${
            n <= value ? 'text-sodium-text' : 'text-tide-deep'
          }`}
        >
          {n <= value ? '★' : '☆'}
        </button>
      ))}
    </span>
  );
}
