declare module "virtual:ant.css";

declare module "virtual:ant-token" {
  type Token = Record<(typeof import("./antTheme"))["SEEN_BY_SCRIPTS"][number], number | boolean>;
  export const plain: Token;
  export const touched: Token;
}
