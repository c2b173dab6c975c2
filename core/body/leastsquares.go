package body

import "math"

// pushOnly finds the x ≥ 0 that makes rows·x nearest to want in the least-
// squares sense: the active-set method of Lawson and Hanson, with a faint pull
// to zero so that equal shares come out equal.
//
//revive:disable-next-line:cyclomatic The steps of one published algorithm, kept together.
func pushOnly(rows [][]float64, want []float64) []float64 {
	n := 0
	if len(rows) > 0 {
		n = len(rows[0])
	}
	const pull = 1e-5
	gram := make([][]float64, n)
	right := make([]float64, n)
	all := make([]float64, n*n)
	for i := range n {
		gram[i] = all[i*n : (i+1)*n]
	}
	for r, row := range rows {
		for i, v := range row {
			if v == 0 {
				continue
			}
			for j := i; j < n; j++ {
				gram[i][j] += v * row[j]
			}
			right[i] += v * want[r]
		}
	}
	for i := range n {
		gram[i][i] += pull
		for j := range i {
			gram[i][j] = gram[j][i]
		}
	}
	x := make([]float64, n)
	in := make([]bool, n)
	for range 4 * n {
		best, at := 1e-9, -1
		for i := range n {
			if in[i] {
				continue
			}
			g := right[i]
			for j := range n {
				g -= gram[i][j] * x[j]
			}
			if g > best {
				best, at = g, i
			}
		}
		if at < 0 {
			break
		}
		in[at] = true
		for {
			z := solveFor(gram, right, in)
			step := 1.0
			for i := range n {
				if in[i] && z[i] <= 0 && x[i]-z[i] > 0 {
					step = math.Min(step, x[i]/(x[i]-z[i]))
				}
			}
			for i := range n {
				if in[i] {
					x[i] += step * (z[i] - x[i])
					if step < 1 && x[i] < 1e-12 || step == 1 && x[i] <= 0 {
						x[i], in[i] = 0, false
					}
				}
			}
			if step == 1 {
				break
			}
		}
	}
	return x
}

// solveFor solves the symmetric system for the unknowns that are in, by
// Cholesky's method; the others are 0.
func solveFor(gram [][]float64, right []float64, in []bool) []float64 {
	at := make([]int, 0, len(in))
	for i, ok := range in {
		if ok {
			at = append(at, i)
		}
	}
	m := len(at)
	store := make([]float64, m*m+m+len(in))
	l, y, z := store[:m*m], store[m*m:m*m+m], store[m*m+m:] // l by rows
	for i := range m {
		for j := 0; j <= i; j++ {
			s := gram[at[i]][at[j]]
			for k := range j {
				s -= l[i*m+k] * l[j*m+k]
			}
			if i == j {
				l[i*m+i] = math.Sqrt(math.Max(s, 1e-12))
			} else {
				l[i*m+j] = s / l[j*m+j]
			}
		}
		s := right[at[i]]
		for k := range i {
			s -= l[i*m+k] * y[k]
		}
		y[i] = s / l[i*m+i]
	}
	for i := m - 1; i >= 0; i-- {
		s := y[i]
		for k := i + 1; k < m; k++ {
			s -= l[k*m+i] * z[at[k]]
		}
		z[at[i]] = s / l[i*m+i]
	}
	return z
}
