# Beta posteriors worked out by R, for core/ready/evidence_test.go. Made with: ./run reference statistics
# A line each: seen well, seen badly, mean, quantiles at a tenth and nine tenths, chance of eight in ten or more.
set.seed(20260402)
well <- round(c(0, 9, 3, runif(37, 0, 60)), 3)
badly <- round(c(0, 1, 4, runif(37, 0, 25)), 3)
a <- 1 + well
b <- 1 + badly
write.table(format(data.frame(well, badly, a / (a + b), qbeta(0.1, a, b), qbeta(0.9, a, b), pbeta(0.8, a, b, lower.tail = FALSE)),
  digits = 12, trim = TRUE), sep = ",", quote = FALSE, row.names = FALSE, col.names = FALSE)
