# Fifty tables of marked and of all, before and after, with the chance of so few after: R's fisher.test to one side.
# ./run reference statistics writes fisher.csv from it.
set.seed(7)
for (i in 1:50) {
  of <- sample(2:80, 1); after <- sample(2:80, 1)
  a <- rbinom(1, of, runif(1)); b <- rbinom(1, after, runif(1))
  p <- fisher.test(matrix(c(a, of - a, b, after - b), 2), alternative = "greater")$p.value
  cat(a, of, b, after, format(p, digits = 12), sep = ",")
  cat("\n")
}
