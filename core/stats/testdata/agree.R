# Sixty tables of two people's answers in four ordered classes with kappa and its error by vcd's Kappa (weighted: linear), for
# core/stats/agree_test.go. ./run reference statistics writes agree.csv from it.
suppressPackageStartupMessages(library(vcd))
set.seed(21)
for (i in 1:60) {
  k <- if (i %% 2 == 0) 4 else 2
  n <- sample(20:300, 1)
  truth <- sample(1:k, n, replace = TRUE, prob = (k:1)^2)
  slip <- function(x) ifelse(runif(n) < 0.25, sample(1:k, n, replace = TRUE), x)
  t <- table(factor(slip(truth), 1:k), factor(slip(truth), 1:k))
  got <- Kappa(t, weights = "Equal-Spacing")
  w <- got$Weighted
  if (k == 2) w <- got$Unweighted
  cat(paste(as.vector(t(t)), collapse = " "), format(w[["value"]], digits = 12), format(w[["ASE"]], digits = 12), sep = ",")
  cat("\n")
}
