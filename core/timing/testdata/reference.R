# Statistics of times worked out by R, for core/timing/reference_test.go. Made with: ./run reference statistics
# Writes the data it made up (from a fixed seed) and what base R's own functions say of them, a name and a value a line.
set.seed(20260314)
n <- 60
area <- round(runif(n, 4, 11), 2)
grade <- sample(0:3, n, replace = TRUE)
minutes <- round(1.5 + 0.7 * area + 0.6 * grade + rnorm(n, 0, 0.8), 3)
before <- round(rnorm(23, 98, 9), 2)
after <- round(rnorm(17, 108, 14), 2)
groups <- list(a = round(rnorm(9, 10, 2), 2), b = round(rnorm(12, 11, 2), 2), c = round(rnorm(7, 13, 2), 2))
mix <- matrix(c(20, 11, 4, 6, 15, 9), nrow = 2, byrow = TRUE)
times <- round(170 * (1:20)^log2(0.86) * exp(rnorm(20, 0, 0.09)), 2)
readings <- round(rnorm(15, 8, 1.1), 2)

data <- function(name, x) cat(sprintf("data,%s,%s\n", name, paste(format(x, digits = 15, trim = TRUE), collapse = " ")))
says <- function(name, x) cat(sprintf("says,%s,%s\n", name, format(unname(x), digits = 15)))
data("area", area); data("grade", grade); data("minutes", minutes)
data("before", before); data("after", after)
for (g in names(groups)) data(paste0("group-", g), groups[[g]])
data("mix-before", mix[1, ]); data("mix-after", mix[2, ])
data("times", times); data("readings", readings)

fit <- lm(minutes ~ area + grade)
says("fit-fixed", coef(fit)[1]); says("fit-area", coef(fit)[2]); says("fit-grade", coef(fit)[3])
says("fit-r2", summary(fit)$r.squared); says("fit-residual", summary(fit)$sigma)

welch <- t.test(after, before)
says("welch-p", welch$p.value); says("welch-low", welch$conf.int[1]); says("welch-high", welch$conf.int[2])

long <- data.frame(value = unlist(groups), kind = rep(names(groups), lengths(groups)))
anova <- summary(aov(value ~ kind, data = long))[[1]]
says("anova-f", anova$`F value`[1]); says("anova-p", anova$`Pr(>F)`[1])

chi <- chisq.test(mix, correct = FALSE)
says("chi-square", chi$statistic); says("chi-p", chi$p.value)

nth <- seq_along(times)
learn <- lm(log(times) ~ log(nth))
says("learn-first", exp(coef(learn)[1])); says("learn-slope", coef(learn)[2]); says("learn-sigma", summary(learn)$sigma)
band <- exp(predict(learn, data.frame(nth = 21), interval = "prediction", level = 0.8))
says("learn-21", band[1]); says("learn-21-low", band[2]); says("learn-21-high", band[3])

ci <- t.test(readings)$conf.int
says("interval-low", ci[1]); says("interval-high", ci[2])
says("median", median(readings)); says("mad", mad(readings, constant = 1))

# Quantiles as they are shown: R's own default, type 7.
two <- c(10, 20)
says("quartile-low", quantile(readings, 0.25, type = 7)); says("quartile-high", quantile(readings, 0.75, type = 7))
says("tenth-before", quantile(before, 0.1, type = 7)); says("ninetieth-before", quantile(before, 0.9, type = 7))
says("median-of-two", quantile(two, 0.5, type = 7))
for (k in 0:5) says(paste0("binomial-", k), pbinom(k - 1, 6, 0.1, lower.tail = FALSE))
for (k in 0:5) says(paste0("poisson-", k), ppois(k - 1, 1.3, lower.tail = FALSE))
says("learn-rate-low", 2^confint(learn)[2, 1]); says("learn-rate-top", 2^confint(learn)[2, 2])
says("discoveries", sum(p.adjust(c(0.001, 0.008, 0.039, 0.041, 0.042, 0.06, 0.074, 0.205), "BH") <= 0.05))
