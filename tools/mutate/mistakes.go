package main

import (
	"go/ast"
	"go/parser"
	"go/token"
	"regexp"
	"strconv"
	"strings"
)

// others are what an operator is mistaken for.
var others = map[token.Token][]string{
	token.LSS: {"<=", ">"}, token.LEQ: {"<", ">"}, token.GTR: {">=", "<"}, token.GEQ: {">", "<"}, token.EQL: {"!="}, token.NEQ: {"=="},
	token.LAND: {"||"}, token.LOR: {"&&"}, token.ADD: {"-"}, token.SUB: {"+"}, token.MUL: {"/"}, token.QUO: {"*"},
}

// words are words that are mistaken for each other.
var words = map[string]string{
	`"left"`:   `"right"`,
	`"right"`:  `"left"`,
	`"_left"`:  `"_right"`,
	`"_right"`: `"_left"`,
	"true":     "false",
	"false":    "true",
	"min":      "max",
	"max":      "min",
	"Min":      "Max",
	"Max":      "Min",
	"continue": "break",
	"Left":     "Right",
	"Right":    "Left",
}

// inGo lists the mistakes that can be made in a file of Go: another operator, another
// figure, the other side, a condition the other way round, a statement left out.
func inGo(path string, text []byte) ([]mutant, error) {
	set := token.NewFileSet()
	file, err := parser.ParseFile(set, path, text, 0)
	if err != nil {
		return nil, err
	}
	var out []mutant
	at := func(p token.Pos) int { return set.Position(p).Offset }
	add := func(from, to token.Pos, becomes string) {
		out = append(out, mutant{path, at(from), at(to), becomes, set.Position(from).Line, string(text[at(from):at(to)])})
	}
	ast.Inspect(file, func(n ast.Node) bool {
		switch v := n.(type) {
		case *ast.ImportSpec, *ast.StructType:
			return false
		case *ast.BinaryExpr:
			if isText(v.X) || isText(v.Y) {
				return true // words put together, not figures
			}
			for _, o := range others[v.Op] {
				add(v.OpPos, v.OpPos+token.Pos(len(v.Op.String())), o)
			}
		case *ast.BasicLit:
			if o, ok := words[v.Value]; ok {
				add(v.Pos(), v.End(), o)
			}
			for _, o := range figures(v.Value) {
				if v.Kind == token.INT || v.Kind == token.FLOAT {
					add(v.Pos(), v.End(), o)
				}
			}
		case *ast.Ident:
			if o, ok := words[v.Name]; ok && v.Obj == nil {
				add(v.Pos(), v.End(), o)
			}
		case *ast.IfStmt:
			add(v.Cond.Pos(), v.Cond.End(), "!("+string(text[at(v.Cond.Pos()):at(v.Cond.End())])+")")
		case *ast.ExprStmt:
			add(v.Pos(), v.End(), "")
		case *ast.AssignStmt:
			if v.Tok != token.DEFINE {
				add(v.Pos(), v.End(), "")
			}
		case *ast.BranchStmt:
			if o, ok := words[v.Tok.String()]; ok && v.Label == nil {
				add(v.Pos(), v.End(), o)
			}
		}
		return true
	})
	return out, nil
}

func isText(e ast.Expr) bool {
	switch v := e.(type) {
	case *ast.BasicLit:
		return v.Kind == token.STRING
	case *ast.BinaryExpr:
		return isText(v.X) || isText(v.Y)
	}
	return false
}

// figures are what a figure is mistaken for: a tenth more, a tenth less, none.
func figures(written string) []string {
	v, err := strconv.ParseFloat(written, 64)
	if err != nil {
		return nil
	}
	if v == 0 {
		return []string{"1"}
	}
	if !strings.ContainsAny(written, ".e") {
		return []string{strconv.Itoa(int(v) + 1), strconv.Itoa(int(v) - 1)}
	}
	return []string{strconv.FormatFloat(1.1*v, 'g', 6, 64), strconv.FormatFloat(0.9*v, 'g', 6, 64)}
}

var (
	figure = regexp.MustCompile(`\b(max|min|to|under|over|large): (-?\d+(?:\.\d+)?)`)
	ask    = regexp.MustCompile(`(?m)^    (?:if|unless): \{.*\}\n`)
	row    = regexp.MustCompile(`(?m)^      - \{(?:quantity|count):.*\}\n`)
	scope  = regexp.MustCompile(`, when: \w+`)
	side   = regexp.MustCompile(`_left|_right|_concave|_convex`)
	alone  = regexp.MustCompile(`, sided: true|, needs: \[\w+\]|, with: \{[^}]*\}`)
	way    = regexp.MustCompile(`flexion|extension|rotation|side_bend`)
	taken  = regexp.MustCompile(`unknown: "(true|false)"`)
	region = regexp.MustCompile(`quantity: (lumbar|thoracic)`)
)

var turned = map[string]string{
	"_left":     "_right",
	"_right":    "_left",
	"_concave":  "_convex",
	"_convex":   "_concave",
	"flexion":   "extension",
	"extension": "flexion",
	"rotation":  "side_bend",
	"side_bend": "rotation",
	"true":      "false",
	"false":     "true",
	"lumbar":    "thoracic",
	"thoracic":  "lumbar",
}

// inYAML lists the mistakes that can be made in a condition and its rules: another
// figure, another side, direction or region, a scope or a condition left out, a row left
// out.
func inYAML(path string, text []byte) ([]mutant, error) {
	var out []mutant
	add := func(from, to int, becomes string) {
		line := 1 + strings.Count(string(text[:from]), "\n")
		out = append(out, mutant{path, from, to, becomes, line, string(text[from:to])})
	}
	for _, m := range figure.FindAllSubmatchIndex(text, -1) {
		for _, o := range figures(string(text[m[4]:m[5]])) {
			add(m[4], m[5], o)
		}
	}
	for _, whole := range []*regexp.Regexp{ask, row, scope, alone} {
		for _, m := range whole.FindAllIndex(text, -1) {
			add(m[0], m[1], "")
		}
	}
	inRow := func(at int) bool { // the rest of the file is words
		line := text[strings.LastIndexByte(string(text[:at]), '\n')+1:]
		return strings.HasPrefix(string(line), "      - {")
	}
	for _, word := range []*regexp.Regexp{side, way} {
		for _, m := range word.FindAllIndex(text, -1) {
			if inRow(m[0]) {
				add(m[0], m[1], turned[string(text[m[0]:m[1]])])
			}
		}
	}
	for _, word := range []*regexp.Regexp{taken, region} {
		for _, m := range word.FindAllSubmatchIndex(text, -1) {
			add(m[2], m[3], turned[string(text[m[2]:m[3]])])
		}
	}
	return out, nil
}
