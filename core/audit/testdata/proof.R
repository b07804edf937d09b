# Fifty exact ranges of a share by R's binom.test, for core/audit/proof_test.go. ./run reference statistics writes proof.csv from it.
set.seed(11)
for (i in 1:50) {
  n <- sample(1:120, 1); bad <- rbinom(1, n, runif(1))
  ci <- binom.test(bad, n, conf.level = 0.9)$conf.int
  cat(bad, n, format(ci[1], digits = 12), format(ci[2], digits = 12), sep = ",")
  cat("\n")
}
