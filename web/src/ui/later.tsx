import { type ComponentType, memo, useDeferredValue } from "react";

/**
 * A component that is drawn when there is time: for what nobody looks at while something is moved. What it is given
 * should be the same object for as long as it says the same.
 */
export function later<Props extends object>(Inner: ComponentType<Props>): ComponentType<Props> {
  const Kept = memo(Inner) as unknown as ComponentType<Props>;
  return function Later(props: Props) {
    return <Kept {...useDeferredValue(props)} />;
  };
}
