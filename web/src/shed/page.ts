/** How the two pages of a vessel are laid out: drawing at the left, words at the right. */
export const BODY = "grid flex-1 content-start overflow-auto lg:grid-cols-[1fr_430px] lg:content-stretch lg:overflow-hidden"
export const ASIDE = "border-t-[1.5px] border-rule bg-paper px-5 pt-4 lg:overflow-auto lg:border-t-0 lg:border-l-[1.5px]"
export const LEFT = "flex min-w-0 flex-col gap-3 px-4 py-3 sm:px-7 lg:overflow-auto"
